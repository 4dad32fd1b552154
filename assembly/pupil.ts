// The pupil as a kernel: discs of an iris, cut to a cat's eye away from the axis, sized by depth or all alike. Three goes: the picture
// as planes with a surround, how far light reaches by blocks, and the gathering, four pixels at a time.

import { add, clear, mirror, mul, splat, storeTurned, sub } from "./simd";

/** Pixels of a block, across and down. */
const BLOCK: i32 = 8;

// Planes of floats, one after another: red, green, blue, alpha; by depth, too, distance (m), the radius (px) of the circle of confusion, and one over its area.
const ALPHA: usize = 3, DISTANCE: usize = 4, CIRCLE: usize = 5, DENSITY: usize = 6;

// The record of src/core/elements/pupil.ts, floats by their places in bytes.
const SAMPLES: usize = 0, RADIUS: usize = 4, ASPECT: usize = 8, AXIS_X: usize = 12, AXIS_Y: usize = 16, PER_PX: usize = 20, LAST_EYE: usize = 24;
const BY_DEPTH: usize = 28, AT_INFINITY: usize = 32, FOCUS: usize = 36, EYES: usize = 40, LIST: usize = 80;

/** Nearer than this nothing is (m), and no circle has a smaller area than this (px^2, over pi). */
const NEAREST: f32 = 0.05;
const LEAST_AREA: f32 = 0.25;

// @ts-ignore: decorator
@inline function pitchOf(width: i32, surround: i32): usize {
  return <usize>(width + 2 * surround) << 2;
}
// @ts-ignore: decorator
@inline function planeOf(width: i32, height: i32, surround: i32): usize {
  return pitchOf(width, surround) * <usize>(height + 2 * surround);
}

/** The picture, and what follows from its depth, as planes with a surround, mirrored or black. Rows are the planes'; `depth`: a frame whose lanes are distance (m), or 0. */
export function pupilPlanes(src: usize, depth: usize, planes: usize, width: i32, height: i32, surround: i32, record: usize, black: i32, scratch: usize, y0: i32, y1: i32): void {
  const plane = planeOf(width, height, surround), pitch = pitchOf(width, surround);
  const count: usize = depth ? DENSITY + 1 : ALPHA + 1;
  for (let y = y0; y < y1; y++) {
    const line = planes + <usize>y * pitch, first = line + (<usize>surround << 2);
    const row = y - surround;
    if (black && (row < 0 || row >= height)) {
      for (let k: usize = 0; k < count; k++) clear(line + k * plane, pitch);
      continue;
    }
    const from = <usize>(mirror(row, height) * width) << 4;
    // The last turn reaches into the surround, which is made after.
    for (let x = 0; x < width; x += 4) {
      const at = src + from + (<usize>x << 4);
      storeTurned(first + (<usize>x << 2), plane, v128.load(at), v128.load(at, 16), v128.load(at, 32), v128.load(at, 48));
    }
    if (depth) for (let x = 0; x < width; x += 4) circles(depth + from + (<usize>x << 4), first + (<usize>x << 2), plane, record);
    for (let k: usize = 0; k < count; k++) {
      const to = first + k * plane;
      for (let i = 1; i <= surround; i++) {
        const left = black ? <f32>0.0 : load<f32>(to + (<usize>mirror(-i, width) << 2));
        const right = black ? <f32>0.0 : load<f32>(to + (<usize>mirror(width - 1 + i, width) << 2));
        store<f32>(to - (<usize>i << 2), left);
        store<f32>(to + (<usize>(width - 1 + i) << 2), right);
      }
    }
  }
}

/** Four pixels' distance, circle of confusion and its density. */
// @ts-ignore: decorator
@inline function circles(depth: usize, to: usize, plane: usize, record: usize): void {
  const z = f32x4.pmax(splat(NEAREST), f32x4(load<f32>(depth), load<f32>(depth, 16), load<f32>(depth, 32), load<f32>(depth, 48)));
  const defocus = f32x4.div(f32x4.abs(sub(z, v128.load32_splat(record, FOCUS))), z);
  const radius = f32x4.pmin(v128.load32_splat(record, RADIUS), mul(v128.load32_splat(record, AT_INFINITY), defocus));
  v128.store(to + DISTANCE * plane, z);
  v128.store(to + CIRCLE * plane, radius);
  v128.store(to + DENSITY * plane, f32x4.div(splat(1), f32x4.pmax(mul(radius, radius), splat(LEAST_AREA))));
}

/** How far (px) the light of a block reaches at most: by depth its largest circle, else the radius, or nothing where it is dark. Rows are the blocks'. */
export function pupilReach(planes: usize, reach: usize, width: i32, height: i32, surround: i32, record: usize, scratch: usize, y0: i32, y1: i32): void {
  const plane = planeOf(width, height, surround), pitch = pitchOf(width, surround);
  const byDepth = load<f32>(record, BY_DEPTH) != 0, radius = load<f32>(record, RADIUS);
  const columns = (width + BLOCK - 1) / BLOCK;
  for (let j = y0; j < y1; j++)
    for (let i = 0; i < columns; i++) {
      let most = splat(0);
      // A last block reads on into the surround, which shows what is beside it.
      for (let y = j * BLOCK; y < min((j + 1) * BLOCK, height); y++) {
        const at = planes + <usize>(y + surround) * pitch + (<usize>(i * BLOCK + surround) << 2);
        for (let x: usize = 0; x < <usize>BLOCK << 2; x += 16) {
          if (byDepth) most = f32x4.pmax(most, v128.load(at + CIRCLE * plane + x));
          else most = v128.or(most, v128.or(v128.or(v128.load(at + x), v128.load(at + plane + x)), v128.load(at + 2 * plane + x)));
        }
      }
      const to = reach + (<usize>(j * columns + i) << 2);
      const near = f32x4.pmax(most, v128.shuffle<f32>(most, most, 2, 3, 0, 1));
      if (byDepth) store<f32>(to, max(f32x4.extract_lane(near, 0), f32x4.extract_lane(near, 1)));
      else store<f32>(to, v128.any_true(v128.and(most, i32x4.splat(0x7fffffff))) ? radius : -1);
    }
}

// A sample in scratch: how many bytes on it lies in a plane, and how far (px).
const SAMPLE_BYTES: usize = 8, APART: usize = 4;

/** Places the samples for planes of a pitch: as many as there are, nearest first. */
function placeSamples(record: usize, count: i32, pitch: usize, places: usize): void {
  const radius = load<f32>(record, RADIUS), aspect = load<f32>(record, ASPECT);
  for (let k = 0; k < count; k++) {
    const s = record + LIST + (<usize>k << 4), place = places + <usize>k * SAMPLE_BYTES;
    const u = load<f32>(s), v = load<f32>(s, 4);
    store<i32>(place, <i32>Mathf.round(v * radius) * <i32>pitch + (<i32>Mathf.round(u * radius * aspect) << 2));
    store<f32>(place, sqrt(u * u + v * v) * radius, APART);
  }
}

/** How many samples a circle of this radius can reach from; its edge is a pixel wide. */
function countWithin(places: usize, count: i32, reach: f32): i32 {
  let low = 0, high = count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (load<f32>(places + <usize>middle * SAMPLE_BYTES, APART) < reach + 1) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** How many samples the pixels of each block of a row of blocks have to look at: the most that light anywhere within the pupil reaches. */
function countsRow(reach: usize, width: i32, height: i32, j: i32, record: usize, places: usize, most: usize, counts: usize): void {
  const columns = (width + BLOCK - 1) / BLOCK, rows = (height + BLOCK - 1) / BLOCK;
  const radius = load<f32>(record, RADIUS);
  const down = <i32>ceil(radius / <f32>BLOCK), across = <i32>ceil((radius * load<f32>(record, ASPECT)) / <f32>BLOCK);
  for (let i = 0; i < columns; i++) {
    let far: f32 = -1;
    for (let k = max(0, j - down); k <= min(rows - 1, j + down); k++) far = max(far, load<f32>(reach + (<usize>(k * columns + i) << 2)));
    store<f32>(most + (<usize>i << 2), far);
  }
  for (let i = 0; i < columns; i++) {
    let far: f32 = -1;
    for (let k = max(0, i - across); k <= min(columns - 1, i + across); k++) far = max(far, load<f32>(most + (<usize>k << 2)));
    store<i32>(counts + (<usize>i << 2), far < 0 ? 0 : countWithin(places, <i32>load<f32>(record, SAMPLES), far));
  }
}

/** How far the second pupil is shifted for the pixels of a row, in pupil radii across and down: outside it the lens barrel stops the light. */
function eyesRow(y: i32, width: i32, record: usize, across: usize, down: usize): void {
  const axisX = load<f32>(record, AXIS_X), aspect = load<f32>(record, ASPECT), perPx = load<f32>(record, PER_PX), last = load<f32>(record, LAST_EYE);
  const hy = <f32>y - load<f32>(record, AXIS_Y);
  for (let x = 0; x < width; x++) {
    const hx = (<f32>x - axisX) / aspect;
    const h = sqrt(hx * hx + hy * hy);
    const place = min(h * perPx, last);
    const cell = <i32>place;
    const eye = record + EYES + (<usize>cell << 2);
    const here = load<f32>(eye);
    const shift = here + (load<f32>(eye, 4) - here) * (place - <f32>cell);
    const share = h > 0 ? shift / h : 0;
    store<f32>(across + (<usize>x << 2), hx * share);
    store<f32>(down + (<usize>x << 2), hy * share);
  }
}

/** One where a sample lies within the second pupil, else 0, times its weight. Light gathered from (u, v) leaves towards (-u, -v). */
// @ts-ignore: decorator
@inline function throughEye(sample: usize, ex: v128, ey: v128): v128 {
  const u = add(v128.load32_splat(sample), ex), v = add(v128.load32_splat(sample, 4), ey);
  return v128.and(v128.load32_splat(sample, 8), f32x4.le(add(mul(u, u), mul(v, v)), splat(1)));
}

// Sums of four pixels while they are gathered: red, green, blue, weights.
const SUM_BYTES: usize = 64;

// @ts-ignore: decorator
@inline function keepSums(sums: usize, red: v128, green: v128, blue: v128, weights: v128): void {
  v128.store(sums, red);
  v128.store(sums, green, 16);
  v128.store(sums, blue, 32);
  v128.store(sums, weights, 48);
}

/** Gathers four pixels from discs of one size. */
function gatherDiscs(at: usize, plane: usize, ex: v128, ey: v128, list: usize, places: usize, count: i32, sums: usize): void {
  let red = splat(0), green = splat(0), blue = splat(0), weights = splat(0);
  const end = list + (<usize>count << 4);
  for (let s = list, place = places; s < end; s += 16, place += SAMPLE_BYTES) {
    const weight = throughEye(s, ex, ey);
    const from = at + <usize>load<i32>(place);
    red = add(red, mul(v128.load(from), weight));
    green = add(green, mul(v128.load(from + plane), weight));
    blue = add(blue, mul(v128.load(from + 2 * plane), weight));
    weights = add(weights, weight);
  }
  keepSums(sums, red, green, blue, weights);
}

/**
 * Gathers four pixels by depth: a sample counts where its own circle reaches the place looked at, its light spread over the circle's
 * area; what lies behind the place is held to the place's own circle, so that a blurred background does not run over what is sharp before it.
 */
function gatherCircles(at: usize, plane: usize, ex: v128, ey: v128, list: usize, places: usize, count: i32, sums: usize): void {
  const z = v128.load(at + DISTANCE * plane), own = v128.load(at + CIRCLE * plane), ownDensity = v128.load(at + DENSITY * plane);
  // The place's own light, in focus or as the middle of its circle.
  let red = mul(v128.load(at), ownDensity), green = mul(v128.load(at + plane), ownDensity), blue = mul(v128.load(at + 2 * plane), ownDensity), weights = ownDensity;
  const end = list + (<usize>count << 4);
  for (let s = list, place = places; s < end; s += 16, place += SAMPLE_BYTES) {
    const from = at + <usize>load<i32>(place);
    const circle = v128.load(from + CIRCLE * plane), density = v128.load(from + DENSITY * plane);
    const behind = f32x4.gt(v128.load(from + DISTANCE * plane), z);
    const radius = v128.bitselect(f32x4.pmin(circle, own), circle, behind);
    const spread = v128.bitselect(f32x4.pmax(density, ownDensity), density, behind);
    const reached = f32x4.pmin(f32x4.pmax(sub(radius, sub(v128.load32_splat(place, APART), splat(1))), splat(0)), splat(1));
    const weight = mul(mul(throughEye(s, ex, ey), reached), spread);
    red = add(red, mul(v128.load(from), weight));
    green = add(green, mul(v128.load(from + plane), weight));
    blue = add(blue, mul(v128.load(from + 2 * plane), weight));
    weights = add(weights, weight);
  }
  keepSums(sums, red, green, blue, weights);
}

/**
 * The mean through the pupil of what surrounds each place. `planes` and `reach` as the kernels above leave them. Record of floats: samples,
 * largest radius (px along y), pixel aspect (px along x for one along y), axis x, axis y (px), px along y to the image height at which the
 * table of cat's eyes ends, its last entry, mode (0: every place at the largest radius; 1: by depth), circle of confusion at infinity
 * (radius, px) and focus distance (m); then 8 entries and one more of how far the second pupil is shifted (in pupil radii) by height, then
 * the samples, nearest to the middle first: u, v, weight, nothing; u, v within the unit disc.
 */
export function iris(planes: usize, reach: usize, dst: usize, width: i32, height: i32, surround: i32, record: usize, scratch: usize, y0: i32, y1: i32): void {
  const plane = planeOf(width, height, surround), pitch = pitchOf(width, surround);
  const count = <i32>load<f32>(record, SAMPLES), byDepth = load<f32>(record, BY_DEPTH) != 0;
  const room = <usize>((width + 3) & ~3) << 2;
  const sums = scratch, last = sums + SUM_BYTES, places = last + 64, across = places + <usize>((count + 1) & ~1) * SAMPLE_BYTES;
  const down = across + room, most = down + room, counts = most + room;
  placeSamples(record, count, pitch, places);
  let known = -1; // the row of blocks the counts are of
  for (let y = y0; y < y1; y++) {
    if (y / BLOCK != known) {
      known = y / BLOCK;
      countsRow(reach, width, height, known, record, places, most, counts);
    }
    eyesRow(y, width, record, across, down);
    const line = planes + <usize>(y + surround) * pitch + (<usize>surround << 2);
    const row = dst + (<usize>(y * width) << 4);
    for (let x = 0; x < width; x += 4) {
      const at = line + (<usize>x << 2);
      const samples = load<i32>(counts + (<usize>(x / BLOCK) << 2));
      const ex = v128.load(across + (<usize>x << 2)), ey = v128.load(down + (<usize>x << 2));
      if (byDepth) gatherCircles(at, plane, ex, ey, record + LIST, places, samples, sums);
      else gatherDiscs(at, plane, ex, ey, record + LIST, places, samples, sums);
      const weights = v128.load(sums, 48);
      const lit = f32x4.gt(weights, splat(0)), inverse = f32x4.div(splat(1), weights);
      const to = x + 4 <= width ? row + (<usize>x << 4) : last;
      storeTurned(
        to, 16, v128.bitselect(mul(v128.load(sums), inverse), v128.load(at), lit), v128.bitselect(mul(v128.load(sums, 16), inverse), v128.load(at + plane), lit),
        v128.bitselect(mul(v128.load(sums, 32), inverse), v128.load(at + 2 * plane), lit), v128.load(at + ALPHA * plane),
      );
      // A last turn that reaches past the row's end is made apart.
      for (let k = 0; x + 4 > width && x + k < width; k++) v128.store(row + (<usize>(x + k) << 4), v128.load(last + (<usize>k << 4)));
    }
  }
}
