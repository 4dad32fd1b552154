// Colours drawn apart along straight paths: each channel is a weighed sum of itself moved and scaled several times,
// across and down by themselves. From planes (assembly/planes.ts), mirrored at the edges.

import { cubic } from "./cubic";
import { add, clear, integers, mirror, mul, splat, storeTurned } from "./simd";
import { originOf, planeOf, pitchOf } from "./planes";
import { SHRINKS } from "./places";

/** Rows that are summed together, so that where columns come from is found once for all of them. */
const BLOCK: i32 = 16;
/** Source samples an output sample is made of at most, along one side. */
const MAX_TAPS: i32 = 64;
const CHANNELS: i32 = 3;

// A channel's copy in the table: where it comes from across, then down (px an output px, and px), and its weight.
const COPY: usize = 20;

/** How far the cubic is widened where a copy shrinks. */
// @ts-ignore: decorator
@inline function widening(scale: f32): f32 {
  return scale > SHRINKS ? min(scale, <f32>(MAX_TAPS / 4)) : 1;
}

// @ts-ignore: decorator
@inline function tapCount(wide: f32): i32 {
  return min(MAX_TAPS, 2 * <i32>Mathf.ceil(2 * wide));
}

/** The first sample of the `count` around four places. */
// @ts-ignore: decorator
@inline function firstTaps(places: v128, count: i32): v128 {
  return f32x4.sub(f32x4.ceil(places), splat(<f32>(count >> 1)));
}

/** Weights of `count` samples from `first` on for four places, each a vector, summing to 1. */
function weigh(places: v128, first: v128, count: i32, wide: f32, to: usize): void {
  const narrow = splat(1 / wide);
  let sum = splat(0);
  for (let k = 0; k < count; k++) {
    const weight = cubic(mul(f32x4.sub(add(first, splat(<f32>k)), places), narrow));
    sum = add(sum, weight);
    v128.store(to + ((<usize>k) << 4), weight);
  }
  const whole = f32x4.div(splat(1), sum);
  for (let k = 0; k < count; k++) v128.store(to + ((<usize>k) << 4), mul(v128.load(to + ((<usize>k) << 4)), whole));
}

// How the samples of four columns lie: one after another, apart, or some of them beyond the picture's edge.
const NEIGHBOURS = 0;
const APART = 1;
const BEYOND = 2;

/** Bytes of a group of four columns: where their first samples stand, how these lie, and the weights. */
// @ts-ignore: decorator
@inline function groupBytes(count: i32): usize {
  return 32 + ((<usize>count) << 4);
}

/** Where the columns of one copy come from. */
function placeColumns(copy: usize, width: i32, count: i32, wide: f32, columns: usize): void {
  const scale = splat(load<f32>(copy));
  const offset = splat(load<f32>(copy, 4));
  const size = groupBytes(count);
  for (let x = 0, at = columns; x < width; x += 4, at += size) {
    const places = add(mul(add(splat(<f32>x), f32x4(0, 1, 2, 3)), scale), offset);
    const first = firstTaps(places, count);
    const cells = integers(first);
    const near = i32x4.extract_lane(cells, 0);
    const neighbours = i32x4.all_true(i32x4.eq(cells, i32x4.add(i32x4.splat(near), i32x4(0, 1, 2, 3))));
    const inside = i32x4.all_true(
      v128.and(i32x4.ge_s(cells, i32x4.splat(0)), i32x4.le_s(cells, i32x4.splat(width - count))),
    );
    v128.store(at, cells);
    store<i32>(at, inside ? (neighbours ? NEIGHBOURS : APART) : BEYOND, 16);
    weigh(places, first, count, wide, at + 32);
  }
}

/** One row of a plane between rows: `weights` of `count` rows from `first` on, into a line. */
function betweenRows(
  plane: usize,
  pitch: usize,
  height: i32,
  first: i32,
  count: i32,
  weights: usize,
  bytes: usize,
  line: usize,
): void {
  for (let k = 0; k < count; k++) {
    const row = plane + <usize>mirror(first + k, height) * pitch;
    const weight = v128.load32_splat(weights + ((<usize>k) << 4));
    if (k == 0) for (let o: usize = 0; o < bytes; o += 16) v128.store(line + o, mul(v128.load(row + o), weight));
    else
      for (let o: usize = 0; o < bytes; o += 16)
        v128.store(line + o, add(v128.load(line + o), mul(v128.load(row + o), weight)));
  }
}

/** As `betweenRows`, of four rows at once: the usual case. */
function betweenFour(
  plane: usize,
  pitch: usize,
  height: i32,
  first: i32,
  weights: usize,
  bytes: usize,
  line: usize,
): void {
  const a = plane + <usize>mirror(first, height) * pitch;
  const b = plane + <usize>mirror(first + 1, height) * pitch;
  const c = plane + <usize>mirror(first + 2, height) * pitch;
  const d = plane + <usize>mirror(first + 3, height) * pitch;
  const wa = v128.load32_splat(weights);
  const wb = v128.load32_splat(weights, 16);
  const wc = v128.load32_splat(weights, 32);
  const wd = v128.load32_splat(weights, 48);
  for (let o: usize = 0; o < bytes; o += 16) {
    const near = add(mul(v128.load(a + o), wa), mul(v128.load(b + o), wb));
    v128.store(line + o, add(near, add(mul(v128.load(c + o), wc), mul(v128.load(d + o), wd))));
  }
}

/**
 * Adds a line, its columns taken from where they come from, to a row of sums. The cubic's negative lobes make no light
 * below none.
 */
function addColumns(line: usize, width: i32, columns: usize, count: i32, weight: v128, sums: usize): void {
  const size = groupBytes(count);
  for (let x = 0, at = columns, to = sums; x < width; x += 4, at += size, to += 16) {
    const lie = load<i32>(at, 16);
    let light: v128;
    if (lie == NEIGHBOURS && count == 4) {
      const from = line + ((<usize>load<i32>(at)) << 2);
      light = weighTaps(v128.load(from), v128.load(from, 4), v128.load(from, 8), v128.load(from, 12), at + 32);
    } else if (lie == APART && count == 4) light = turnColumns(line, at);
    else light = gatherColumns(line, width, at, count);
    v128.store(to, add(v128.load(to), mul(f32x4.pmax(splat(0), light), weight)));
  }
}

/** Four taps of four columns, weighed. */
// @ts-ignore: decorator
@inline function weighTaps(a: v128, b: v128, c: v128, d: v128, weights: usize): v128 {
  const near = add(mul(a, v128.load(weights)), mul(b, v128.load(weights, 16)));
  return add(near, add(mul(c, v128.load(weights, 32)), mul(d, v128.load(weights, 48))));
}

/** Four columns inside the picture whose samples are not neighbours. */
// @ts-ignore: decorator
@inline function turnColumns(line: usize, group: usize): v128 {
  const p = v128.load(line + ((<usize>load<i32>(group)) << 2));
  const q = v128.load(line + ((<usize>load<i32>(group, 4)) << 2));
  const r = v128.load(line + ((<usize>load<i32>(group, 8)) << 2));
  const s = v128.load(line + ((<usize>load<i32>(group, 12)) << 2));
  const pq = v128.shuffle<f32>(p, q, 0, 4, 1, 5);
  const rs = v128.shuffle<f32>(r, s, 0, 4, 1, 5);
  const pqHigh = v128.shuffle<f32>(p, q, 2, 6, 3, 7);
  const rsHigh = v128.shuffle<f32>(r, s, 2, 6, 3, 7);
  const a = v128.shuffle<f32>(pq, rs, 0, 1, 4, 5);
  const b = v128.shuffle<f32>(pq, rs, 2, 3, 6, 7);
  const c = v128.shuffle<f32>(pqHigh, rsHigh, 0, 1, 4, 5);
  const d = v128.shuffle<f32>(pqHigh, rsHigh, 2, 3, 6, 7);
  return weighTaps(a, b, c, d, group + 32);
}

/** Four columns of any number of samples, which may lie beyond the edge. */
function gatherColumns(line: usize, width: i32, group: usize, count: i32): v128 {
  const a = load<i32>(group);
  const b = load<i32>(group, 4);
  const c = load<i32>(group, 8);
  const d = load<i32>(group, 12);
  let light = splat(0);
  for (let k = 0; k < count; k++) {
    const samples = f32x4(
      load<f32>(line + ((<usize>mirror(a + k, width)) << 2)),
      load<f32>(line + ((<usize>mirror(b + k, width)) << 2)),
      load<f32>(line + ((<usize>mirror(c + k, width)) << 2)),
      load<f32>(line + ((<usize>mirror(d + k, width)) << 2)),
    );
    light = add(light, mul(samples, v128.load(group + 32 + ((<usize>k) << 4))));
  }
  return light;
}

/** Sums of a row of all channels into the picture's row; alpha stays where it is. */
function joinSums(sums: usize, apart: usize, width: i32, source: usize, to: usize): void {
  let x = 0;
  let o: usize = 0;
  for (; x + 4 <= width; x += 4, o += 16) {
    const at = o << 2;
    const from = source + at;
    const near = v128.shuffle<f32>(v128.load(from), v128.load(from, 16), 3, 7, 3, 7);
    const far = v128.shuffle<f32>(v128.load(from, 32), v128.load(from, 48), 3, 7, 3, 7);
    const alpha = v128.shuffle<f32>(near, far, 0, 1, 4, 5);
    storeTurned(to + at, 16, v128.load(sums + o), v128.load(sums + apart + o), v128.load(sums + 2 * apart + o), alpha);
  }
  for (; x < width; x++, o += 4) {
    const at = o << 2;
    v128.store(
      to + at,
      f32x4(
        load<f32>(sums + o),
        load<f32>(sums + apart + o),
        load<f32>(sums + 2 * apart + o),
        load<f32>(source + at, 12),
      ),
    );
  }
}

/**
 * Each channel as the sum of its copies. `planes`: src as `split` leaves it. `copies`
 * (src/core/elements/glow/split.ts): how many a channel has, then those of red, green and blue: place across = scale x
 * + offset, place down = scale y + offset (px), weight.
 */
export function drawApart(
  src: usize,
  planes: usize,
  dst: usize,
  width: i32,
  height: i32,
  copies: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const count = <i32>load<f32>(copies);
  const pitch = pitchOf(width);
  const plane = planeOf(width, height);
  const origin = originOf(planes, width);
  const bytes = ((<usize>width + 3) >> 2) << 4;
  const line = scratch + (MAX_TAPS << 4);
  const sums = line + bytes;
  const columns = sums + <usize>(BLOCK * CHANNELS) * bytes;
  for (let block = y0; block < y1; block += BLOCK) {
    const rows = min(BLOCK, y1 - block);
    clear(sums, <usize>(BLOCK * CHANNELS) * bytes);
    for (let i = 0; i < CHANNELS * count; i++) {
      const channel = i / count;
      const copy = copies + 4 + <usize>i * COPY;
      const wideX = widening(load<f32>(copy));
      const wideY = widening(load<f32>(copy, 8));
      const across = tapCount(wideX);
      const down = tapCount(wideY);
      const weight = v128.load32_splat(copy, 16);
      placeColumns(copy, width, across, wideX, columns);
      for (let r = 0; r < rows; r++) {
        const place = splat(<f32>(block + r) * load<f32>(copy, 8) + load<f32>(copy, 12));
        const first = firstTaps(place, down);
        weigh(place, first, down, wideY, scratch);
        const from = origin + <usize>channel * plane;
        const row = i32x4.extract_lane(integers(first), 0);
        if (down == 4) betweenFour(from, pitch, height, row, scratch, bytes, line);
        else betweenRows(from, pitch, height, row, down, scratch, bytes, line);
        addColumns(line, width, columns, across, weight, sums + <usize>(r * CHANNELS + channel) * bytes);
      }
    }
    for (let r = 0; r < rows; r++) {
      const at = (<usize>((block + r) * width)) << 4;
      joinSums(sums + <usize>(r * CHANNELS) * bytes, bytes, width, src + at, dst + at);
    }
  }
}
