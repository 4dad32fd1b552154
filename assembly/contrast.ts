// Contrast by frequency, direction and image height: bands of the picture, each with a gain along the radius and one across it.
// What is coarse is made at half size (contrastLow), the rest at full size (contrast).

import { expandRow, F0, F1, F2 } from "./expand";
import { PAD } from "./rows";
import { add, integers, mul, splat, sub, withAlpha } from "./simd";

/**
 * Both kernels read one record of floats: axis x, axis y (px), pitch x, pitch y (mm/px), table entries per mm^2 of height squared,
 * last entry, factor of second differences along x, the same along y, pitch x and y that height is measured by, two of nothing; then
 * the table: twelve floats an entry, mean_0..3, half_0..4, edge, one of nothing, base. It is read every few pixels, and gains are linear between.
 */
const ENTRY_BYTES: usize = 48;
const TABLE: usize = 48;
const GROUP: i32 = 4;

/** Bytes for what the table holds at either end of a group. */
const GAINS: usize = 96;

/** Bytes of a row of figures, one a group and four to spare. */
// @ts-ignore: decorator
@inline function figuresBytes(width: i32): usize {
  return <usize>(((width >> 2) + 8) << 2);
}

/** Where each group of a row begins, and the last one ends: its entry's offset in the table, bytes, and the place between that entry and the next. */
function placesRow(record: usize, width: i32, y: i32, offsets: usize, fractions: usize): void {
  const dy = (<f32>y - load<f32>(record, 4)) * load<f32>(record, 36);
  const axisX = v128.load32_splat(record), pitchX = v128.load32_splat(record, 32), scale = v128.load32_splat(record, 16), last = v128.load32_splat(record, 20);
  const dy2 = splat(dy * dy);
  for (let group = 0; group <= width / GROUP + 1; group += 4) {
    const dx = mul(sub(mul(add(splat(<f32>group), f32x4(0, 1, 2, 3)), splat(<f32>GROUP)), axisX), pitchX);
    const place = f32x4.pmin(mul(add(mul(dx, dx), dy2), scale), last);
    const entry = f32x4.floor(place);
    v128.store(offsets + (<usize>group << 2), i32x4.mul(integers(entry), i32x4.splat(<i32>ENTRY_BYTES)));
    v128.store(fractions + (<usize>group << 2), sub(place, entry));
  }
}

/** What the table holds where a group begins: three vectors in `out`. */
// @ts-ignore: decorator
@inline function lookUp(record: usize, offsets: usize, fractions: usize, group: usize, out: usize): void {
  const t = v128.load32_splat(fractions + (group << 2));
  const entry = record + TABLE + <usize>load<i32>(offsets + (group << 2));
  const a = v128.load(entry), b = v128.load(entry, 16), c = v128.load(entry, 32);
  v128.store(out, add(a, mul(sub(v128.load(entry, 48), a), t)));
  v128.store(out, add(b, mul(sub(v128.load(entry, 64), b), t)), 16);
  v128.store(out, add(c, mul(sub(v128.load(entry, 80), c), t)), 32);
}

/** Of each group's middle: cos 2phi, and sin 2phi times a quarter of the mean factor of second differences; phi is the radius' direction. */
function anglesRow(record: usize, width: i32, y: i32, cosines: usize, sines: usize): void {
  const dy = splat((<f32>y - load<f32>(record, 4)) * load<f32>(record, 12));
  const axisX = v128.load32_splat(record), pitchX = v128.load32_splat(record, 8);
  const cross = splat(<f32>sqrt(load<f32>(record, 24) * load<f32>(record, 28)));
  const dy2 = mul(dy, dy);
  for (let group = 0; group < width / GROUP + 1; group += 4) {
    const x = add(mul(add(splat(<f32>group), f32x4(0, 1, 2, 3)), splat(<f32>GROUP)), splat(<f32>(GROUP - 1) * 0.5));
    const dx = mul(sub(x, axisX), pitchX);
    const dx2 = mul(dx, dx);
    const inverse = f32x4.div(splat(1), f32x4.pmax(splat(1e-9), add(dx2, dy2)));
    v128.store(cosines + (<usize>group << 2), mul(sub(dx2, dy2), inverse));
    v128.store(sines + (<usize>group << 2), mul(mul(mul(dx, dy), inverse), cross));
  }
}

// @ts-ignore: decorator
@inline function lane(from: usize, index: usize): v128 {
  return v128.load32_splat(from + (index << 2));
}

/** What a gain changes by from pixel to pixel within a group. */
// @ts-ignore: decorator
@inline function step(from: usize, to: usize, index: usize): v128 {
  return mul(sub(lane(to, index), lane(from, index)), splat(<f32>1.0 / <f32>GROUP));
}

/**
 * One row of what differences are taken of, and of the bands' sum. With a cell more at either end, `turned` holds half_0 m0 + half_1 m1
 * + half_2 m2, `sharp` edge m0; `bands` m2 + mean_0 (m0 - m1) + mean_1 (m1 - m2) + `centre` edge m0, and m0's alpha.
 */
function weighFine(m0: usize, m1: usize, m2: usize, turned: usize, sharp: usize, bands: usize, width: i32, record: usize, offsets: usize, fractions: usize, centre: v128, gains: usize): void {
  let from = gains, to = gains + GAINS / 2;
  lookUp(record, offsets, fractions, 0, from);
  for (let x = 0; x < width; x += GROUP) {
    lookUp(record, offsets, fractions, <usize>(x / GROUP + 1), to);
    let mean0 = lane(from, 0), mean1 = lane(from, 1), half0 = lane(from, 4), half1 = lane(from, 5), half2 = lane(from, 6), edge = lane(from, 9);
    const more0 = step(from, to, 0), more1 = step(from, to, 1), turn0 = step(from, to, 4), turn1 = step(from, to, 5), turn2 = step(from, to, 6), moreEdge = step(from, to, 9);
    // Beyond the frame stands its last pixel, with the gains of that place: an even field stays even to its edges.
    if (x == 0) {
      v128.store(turned, add(add(mul(v128.load(m0), sub(half0, turn0)), mul(v128.load(m1), sub(half1, turn1))), mul(v128.load(m2), sub(half2, turn2))));
      v128.store(sharp, mul(v128.load(m0), sub(edge, moreEdge)));
    }
    const end = <usize>min(x + GROUP, width) << 4;
    for (let o = <usize>x << 4; o < end; o += 16) {
      const p0 = v128.load(m0 + o), p1 = v128.load(m1 + o), p2 = v128.load(m2 + o);
      v128.store(turned + 16 + o, add(add(mul(p0, half0), mul(p1, half1)), mul(p2, half2)));
      const edged = mul(p0, edge);
      v128.store(sharp + 16 + o, edged);
      v128.store(bands + o, withAlpha(add(add(p2, mul(edged, centre)), add(mul(sub(p0, p1), mean0), mul(sub(p1, p2), mean1))), p0));
      mean0 = add(mean0, more0);
      mean1 = add(mean1, more1);
      half0 = add(half0, turn0);
      half1 = add(half1, turn1);
      half2 = add(half2, turn2);
      edge = add(edge, moreEdge);
    }
    if (x + GROUP >= width) {
      v128.store(turned + end, add(add(mul(v128.load(m0 + end - 16), half0), mul(v128.load(m1 + end - 16), half1)), mul(v128.load(m2 + end - 16), half2)), 16);
      v128.store(sharp + end, mul(v128.load(m0 + end - 16), edge), 16);
    }
    const swap = from;
    from = to;
    to = swap;
  }
}

/**
 * The same at half size, of m2 reduced and the two coarse members: half_3 m3 + half_4 m4, and (mean_2 - 1) (m2 - m3) + (mean_3 - 1) (m3 - m4) + base m4,
 * with base as alpha. */
function weighCoarse(m2: usize, m3: usize, m4: usize, turned: usize, bands: usize, width: i32, record: usize, offsets: usize, fractions: usize, gains: usize): void {
  const one = splat(1);
  let from = gains, to = gains + GAINS / 2;
  lookUp(record, offsets, fractions, 0, from);
  for (let x = 0; x < width; x += GROUP) {
    lookUp(record, offsets, fractions, <usize>(x / GROUP + 1), to);
    let mean2 = sub(lane(from, 2), one), mean3 = sub(lane(from, 3), one), half3 = lane(from, 7), half4 = lane(from, 8), base = lane(from, 11);
    const more2 = step(from, to, 2), more3 = step(from, to, 3), turn3 = step(from, to, 7), turn4 = step(from, to, 8), moreBase = step(from, to, 11);
    if (x == 0) v128.store(turned, add(mul(v128.load(m3), sub(half3, turn3)), mul(v128.load(m4), sub(half4, turn4))));
    const end = <usize>min(x + GROUP, width) << 4;
    for (let o = <usize>x << 4; o < end; o += 16) {
      const p2 = v128.load(m2 + o), p3 = v128.load(m3 + o), p4 = v128.load(m4 + o);
      v128.store(turned + 16 + o, add(mul(p3, half3), mul(p4, half4)));
      v128.store(bands + o, withAlpha(add(add(mul(sub(p2, p3), mean2), mul(sub(p3, p4), mean3)), mul(p4, base)), base));
      mean2 = add(mean2, more2);
      mean3 = add(mean3, more3);
      half3 = add(half3, turn3);
      half4 = add(half4, turn4);
      base = add(base, moreBase);
    }
    if (x + GROUP >= width) v128.store(turned + end, add(mul(v128.load(m3 + end - 16), half3), mul(v128.load(m4 + end - 16), half4)), 16);
    const swap = from;
    from = to;
    to = swap;
  }
}

/**
 * cos 2phi (dxx - dyy) + 2 sin 2phi dxy: the second derivative along the radius less that across it, of rows with a cell more at either
 * end. `cosX`, `cosY`: the cosine times either direction's factor; `own`: twice their difference.
 */
// @ts-ignore: decorator
@inline function directed(r: usize, u: usize, d: usize, cosX: v128, cosY: v128, own: v128, sin2: v128): v128 {
  const along = sub(mul(add(v128.load(r), v128.load(r, 32)), cosX), mul(add(v128.load(u, 16), v128.load(d, 16)), cosY));
  const across = sub(add(v128.load(d, 32), v128.load(u)), add(v128.load(d), v128.load(u, 32)));
  return add(sub(along, mul(v128.load(r, 16), own)), mul(across, sin2));
}

/** Rows kept around the one that is made: of each kind four, found by the low bits of their number. */
// @ts-ignore: decorator
@inline function slot(rows: usize, y: i32, bytes: usize): usize {
  return rows + <usize>(y & 3) * bytes;
}

/**
 * The coarse part, at half size: (mean_2 - 1) (m2 - m3) + (mean_3 - 1) (m3 - m4) + base m4, less (d_rr - d_tt) of half_3 m3 + half_4 m4; m2 is
 * the full-size member reduced. Its alpha is base: the share of the light that comes from here. The axis and the pitches of the record are those of this size.
 */
export function contrastLow(m2: usize, m3: usize, m4: usize, dst: usize, width: i32, height: i32, record: usize, scratch: usize, y0: i32, y1: i32): void {
  const stride = <usize>width << 4, padded = stride + 32;
  const offsets = scratch + GAINS, fractions = offsets + figuresBytes(width), cosines = fractions + figuresBytes(width), sines = cosines + figuresBytes(width);
  const turned = sines + figuresBytes(width), bands = turned + 4 * padded;
  const sx = v128.load32_splat(record, 24), sy = v128.load32_splat(record, 28);
  let next = y0 - 1;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + 1; next++) {
      const row = <usize>min(max(next, 0), height - 1) * stride;
      placesRow(record, width, next, offsets, fractions);
      weighCoarse(m2 + row, m3 + row, m4 + row, slot(turned, next, padded), slot(bands, next, stride), width, record, offsets, fractions, scratch);
    }
    const up = slot(turned, y - 1, padded), here = slot(turned, y, padded), down = slot(turned, y + 1, padded);
    const sum = slot(bands, y, stride);
    const to = dst + <usize>y * stride;
    anglesRow(record, width, y, cosines, sines);
    for (let x = 0; x < width; x += GROUP) {
      const cos2 = v128.load32_splat(cosines + <usize>x), sin2 = v128.load32_splat(sines + <usize>x);
      const cosX = mul(cos2, sx), cosY = mul(cos2, sy), difference = sub(cosX, cosY), own = add(difference, difference);
      const end = <usize>min(x + GROUP, width) << 4;
      for (let o = <usize>x << 4; o < end; o += 16) {
        const bands = v128.load(sum + o);
        v128.store(to + o, withAlpha(sub(bands, directed(here + o, up + o, down + o, cosX, cosY, own, sin2)), bands));
      }
    }
  }
}

/**
 * dst = low, expanded from half the size, + (1 - its alpha) (m2 + mean_0 (m0 - m1) + mean_1 (m1 - m2)), less (d_rr - d_tt) of half_0 m0 + half_1 m1 + half_2 m2, less
 * d_xx + d_yy of edge m0: second derivatives along the radius and across it tell the two directions apart.
 */
export function contrast(
  m0: usize, m1: usize, m2: usize, low: usize, lowWidth: i32, lowHeight: i32, edgeX: f32, edgeY: f32, dst: usize, width: i32, height: i32, record: usize, scratch: usize, y0: i32, y1: i32,
): void {
  const stride = <usize>width << 4, padded = stride + 32;
  const offsets = scratch + GAINS, fractions = offsets + figuresBytes(width), cosines = fractions + figuresBytes(width), sines = cosines + figuresBytes(width);
  const turned = sines + figuresBytes(width), sharp = turned + 4 * padded, bands = sharp + 4 * padded;
  const brought = bands + 4 * stride, doubled = brought + (<usize>(lowWidth + 2 * PAD) << 4);
  const sx = v128.load32_splat(record, 24), sy = v128.load32_splat(record, 28);
  const centre = add(add(sx, sy), add(sx, sy));
  const f0 = splat(F0), f1 = splat(F1), f2 = splat(F2), one = splat(1);
  let coarse = (y0 >> 1) - 1;
  let next = y0 - 1;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + 1; next++) {
      const row = <usize>min(max(next, 0), height - 1) * stride;
      placesRow(record, width, next, offsets, fractions);
      weighFine(m0 + row, m1 + row, m2 + row, slot(turned, next, padded), slot(sharp, next, padded), slot(bands, next, stride), width, record, offsets, fractions, centre, scratch);
    }
    const up = slot(turned, y - 1, padded), here = slot(turned, y, padded), down = slot(turned, y + 1, padded);
    const above = slot(sharp, y - 1, padded) + 16, own = slot(sharp, y, padded), below = slot(sharp, y + 1, padded) + 16;
    for (; coarse <= (y >> 1) + 1; coarse++) expandRow(low, lowWidth, lowHeight, edgeX, edgeY, coarse, brought, slot(doubled, coarse, stride), width);
    // Even rows lie nearer the cell before, odd ones nearer the one after.
    const middle = slot(doubled, y >> 1, stride), near = slot(doubled, (y >> 1) + (y & 1 ? 1 : -1), stride), far = slot(doubled, (y >> 1) - (y & 1 ? 1 : -1), stride);
    const sum = slot(bands, y, stride);
    const to = dst + <usize>y * stride;
    anglesRow(record, width, y, cosines, sines);
    for (let x = 0; x < width; x += GROUP) {
      const cos2 = v128.load32_splat(cosines + <usize>x), sin2 = v128.load32_splat(sines + <usize>x);
      const cosX = mul(cos2, sx), cosY = mul(cos2, sy), difference = sub(cosX, cosY), turn = add(difference, difference);
      const end = <usize>min(x + GROUP, width) << 4;
      for (let o = <usize>x << 4; o < end; o += 16) {
        const fine = v128.load(sum + o);
        const expanded = add(add(mul(v128.load(near + o), f1), mul(v128.load(middle + o), f0)), mul(v128.load(far + o), f2));
        const edges = add(mul(add(v128.load(own + o), v128.load(own + o, 32)), sx), mul(add(v128.load(above + o), v128.load(below + o)), sy));
        const rest = sub(one, v128.shuffle<f32>(expanded, expanded, 3, 3, 3, 3));
        const out = sub(sub(add(expanded, mul(fine, rest)), edges), directed(here + o, up + o, down + o, cosX, cosY, turn, sin2));
        v128.store(to + o, withAlpha(out, fine));
      }
    }
  }
}
