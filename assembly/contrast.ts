// Contrast by frequency, direction and image height: bands of the picture, each with a gain along the radius and one across it.
// What is coarse is made at half size (contrastLow), the rest at full size (contrast).

import { bringRow, doubleRow, F0, F1, F2, PAD } from "./convolve";
import { add, mul, splat, sub, withAlpha } from "./simd";

/**
 * Both kernels read one record of floats: axis x, axis y (px), pitch x, pitch y (mm/px), table entries per mm^2 of height squared,
 * last entry, factor of second differences along x, the same along y, four of nothing; then the table: twelve floats an entry,
 * mean_0..3, half_0..3, half_4, edge, two of nothing. It is read every few pixels, and gains are linear between.
 */
const ENTRY_BYTES: usize = 48;
const TABLE: usize = 48;
const GROUP: i32 = 4;

/** What the table holds at x: three vectors in `out`. */
// @ts-ignore: decorator
@inline function lookUp(record: usize, dx: f32, dy2: f32, out: usize): void {
  const place = min((dx * dx + dy2) * load<f32>(record, 16), load<f32>(record, 20));
  const cell = <i32>place;
  const t = splat(place - <f32>cell);
  const entry = record + TABLE + <usize>cell * ENTRY_BYTES;
  for (let at: usize = 0; at < ENTRY_BYTES; at += 16) {
    const here = v128.load(entry + at);
    v128.store(out + at, add(here, mul(sub(v128.load(entry + ENTRY_BYTES + at), here), t)));
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

/** Bytes for what the table holds at either end of a group. */
const GAINS: usize = 96;

/**
 * One row of what second differences are taken of, and of the bands' sum: `turned` holds half_0 m0 + half_1 m1 + half_2 m2 with a
 * cell more at either end, `bands` m2 + mean_0 (m0 - m1) + mean_1 (m1 - m2).
 */
function weighFine(m0: usize, m1: usize, m2: usize, turned: usize, bands: usize, width: i32, dy2: f32, record: usize, gains: usize): void {
  const axisX = load<f32>(record), pitchX = load<f32>(record, 8);
  let from = gains, to = gains + GAINS / 2;
  lookUp(record, -axisX * pitchX, dy2, from);
  for (let x = 0; x < width; x += GROUP) {
    lookUp(record, (<f32>(x + GROUP) - axisX) * pitchX, dy2, to);
    let mean0 = lane(from, 0), mean1 = lane(from, 1), half0 = lane(from, 4), half1 = lane(from, 5), half2 = lane(from, 6);
    const more0 = step(from, to, 0), more1 = step(from, to, 1), turn0 = step(from, to, 4), turn1 = step(from, to, 5), turn2 = step(from, to, 6);
    // Beyond the frame stands its last pixel, with the gains of that place: an even field stays even to its edges.
    if (x == 0) v128.store(turned, add(add(mul(v128.load(m0), sub(half0, turn0)), mul(v128.load(m1), sub(half1, turn1))), mul(v128.load(m2), sub(half2, turn2))));
    const end = <usize>min(x + GROUP, width) << 4;
    for (let o = <usize>x << 4; o < end; o += 16) {
      const p0 = v128.load(m0 + o), p1 = v128.load(m1 + o), p2 = v128.load(m2 + o);
      v128.store(turned + 16 + o, add(add(mul(p0, half0), mul(p1, half1)), mul(p2, half2)));
      v128.store(bands + o, add(p2, add(mul(sub(p0, p1), mean0), mul(sub(p1, p2), mean1))));
      mean0 = add(mean0, more0);
      mean1 = add(mean1, more1);
      half0 = add(half0, turn0);
      half1 = add(half1, turn1);
      half2 = add(half2, turn2);
    }
    if (x + GROUP >= width) v128.store(turned + end, add(add(mul(v128.load(m0 + end - 16), half0), mul(v128.load(m1 + end - 16), half1)), mul(v128.load(m2 + end - 16), half2)), 16);
    const swap = from;
    from = to;
    to = swap;
  }
}

/** The same at half size, of m2 reduced and the two coarse members: half_3 m3 + half_4 m4, and (mean_2 - 1) (m2 - m3) + (mean_3 - 1) (m3 - m4). */
function weighCoarse(m2: usize, m3: usize, m4: usize, turned: usize, bands: usize, width: i32, dy2: f32, record: usize, gains: usize): void {
  const axisX = load<f32>(record), pitchX = load<f32>(record, 8);
  const one = splat(1);
  let from = gains, to = gains + GAINS / 2;
  lookUp(record, -axisX * pitchX, dy2, from);
  for (let x = 0; x < width; x += GROUP) {
    lookUp(record, (<f32>(x + GROUP) - axisX) * pitchX, dy2, to);
    let mean2 = sub(lane(from, 2), one), mean3 = sub(lane(from, 3), one), half3 = lane(from, 7), half4 = lane(from, 8);
    const more2 = step(from, to, 2), more3 = step(from, to, 3), turn3 = step(from, to, 7), turn4 = step(from, to, 8);
    if (x == 0) v128.store(turned, add(mul(v128.load(m3), sub(half3, turn3)), mul(v128.load(m4), sub(half4, turn4))));
    const end = <usize>min(x + GROUP, width) << 4;
    for (let o = <usize>x << 4; o < end; o += 16) {
      const p2 = v128.load(m2 + o), p3 = v128.load(m3 + o), p4 = v128.load(m4 + o);
      v128.store(turned + 16 + o, add(mul(p3, half3), mul(p4, half4)));
      v128.store(bands + o, add(mul(sub(p2, p3), mean2), mul(sub(p3, p4), mean3)));
      mean2 = add(mean2, more2);
      mean3 = add(mean3, more3);
      half3 = add(half3, turn3);
      half4 = add(half4, turn4);
    }
    if (x + GROUP >= width) v128.store(turned + end, add(mul(v128.load(m3 + end - 16), half3), mul(v128.load(m4 + end - 16), half4)), 16);
    const swap = from;
    from = to;
    to = swap;
  }
}

/** Middle of the group that begins at x, mm from the axis. */
// @ts-ignore: decorator
@inline function middleOf(x: i32, axisX: f32, pitchX: f32): f32 {
  return (<f32>x + <f32>(GROUP - 1) * 0.5 - axisX) * pitchX;
}

/** cos 2phi (dxx - dyy) + 2 sin 2phi dxy: the second derivative along the radius less that across it, of rows with a cell more at either end. */
// @ts-ignore: decorator
@inline function directed(r: usize, u: usize, d: usize, cos2: v128, sin2: v128, sx: v128, sy: v128): v128 {
  const here = v128.load(r, 16);
  const twice = add(here, here);
  const dxx = mul(sub(add(v128.load(r), v128.load(r, 32)), twice), sx);
  const dyy = mul(sub(add(v128.load(u, 16), v128.load(d, 16)), twice), sy);
  const dxy = sub(add(v128.load(d, 32), v128.load(u)), add(v128.load(d), v128.load(u, 32)));
  return add(mul(sub(dxx, dyy), cos2), mul(dxy, sin2));
}

/** Rows kept around the one that is made: of each kind four, found by the low bits of their number. */
// @ts-ignore: decorator
@inline function slot(rows: usize, y: i32, bytes: usize): usize {
  return rows + <usize>(y & 3) * bytes;
}

/**
 * The coarse part, at half size: (mean_2 - 1) (m2 - m3) + (mean_3 - 1) (m3 - m4), less (d_rr - d_tt) of half_3 m3 + half_4 m4; m2 is
 * the full-size member reduced. The axis and the pitches of the record are those of this size.
 */
export function contrastLow(m2: usize, m3: usize, m4: usize, dst: usize, width: i32, height: i32, record: usize, scratch: usize, y0: i32, y1: i32): void {
  const stride = <usize>width << 4, padded = stride + 32;
  const gains = scratch, turned = scratch + GAINS, bands = turned + 4 * padded;
  const axisX = load<f32>(record), axisY = load<f32>(record, 4), pitchX = load<f32>(record, 8), pitchY = load<f32>(record, 12);
  const fx = load<f32>(record, 24), fy = load<f32>(record, 28);
  const cross = <f32>sqrt(fx * fy) * 0.25;
  const sx = splat(fx), sy = splat(fy);
  let next = y0 - 1;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + 1; next++) {
      const dy = (<f32>next - axisY) * pitchY, row = <usize>min(max(next, 0), height - 1) * stride;
      weighCoarse(m2 + row, m3 + row, m4 + row, slot(turned, next, padded), slot(bands, next, stride), width, dy * dy, record, gains);
    }
    const up = slot(turned, y - 1, padded), here = slot(turned, y, padded), down = slot(turned, y + 1, padded);
    const sum = slot(bands, y, stride);
    const to = dst + <usize>y * stride;
    const dy = (<f32>y - axisY) * pitchY;
    for (let x = 0; x < width; x += GROUP) {
      const dx = middleOf(x, axisX, pitchX);
      const inverse = <f32>1.0 / max(dx * dx + dy * dy, 1e-9);
      const cos2 = splat((dx * dx - dy * dy) * inverse), sin2 = splat(4 * dx * dy * inverse * cross);
      const end = <usize>min(x + GROUP, width) << 4;
      for (let o = <usize>x << 4; o < end; o += 16) v128.store(to + o, sub(v128.load(sum + o), directed(here + o, up + o, down + o, cos2, sin2, sx, sy)));
    }
  }
}

/**
 * dst = low, expanded from half the size, + m2 + mean_0 (m0 - m1) + mean_1 (m1 - m2), less (d_rr - d_tt) of half_0 m0 + half_1 m1 + half_2 m2, less edge
 * (d_xx + d_yy) m0: second derivatives along the radius and across it tell the two directions apart.
 */
export function contrast(
  m0: usize, m1: usize, m2: usize, low: usize, lowWidth: i32, lowHeight: i32, edgeX: f32, edgeY: f32, dst: usize, width: i32, height: i32, record: usize, scratch: usize, y0: i32, y1: i32,
): void {
  const stride = <usize>width << 4, padded = stride + 32;
  const gains = scratch, turned = scratch + GAINS, bands = turned + 4 * padded;
  const axisX = load<f32>(record), axisY = load<f32>(record, 4), pitchX = load<f32>(record, 8), pitchY = load<f32>(record, 12);
  const fx = load<f32>(record, 24), fy = load<f32>(record, 28);
  const cross = <f32>sqrt(fx * fy) * 0.25;
  const sx = splat(fx), sy = splat(fy);
  const last = stride - 16;
  const brought = bands + 4 * stride, doubled = brought + (<usize>(lowWidth + 2 * PAD) << 4);
  const f0 = splat(F0), f1 = splat(F1), f2 = splat(F2);
  let coarse = (y0 >> 1) - 1;
  let next = y0 - 1;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + 1; next++) {
      const dy = (<f32>next - axisY) * pitchY, row = <usize>min(max(next, 0), height - 1) * stride;
      weighFine(m0 + row, m1 + row, m2 + row, slot(turned, next, padded), slot(bands, next, stride), width, dy * dy, record, gains);
    }
    const up = slot(turned, y - 1, padded), here = slot(turned, y, padded), down = slot(turned, y + 1, padded);
    for (; coarse <= (y >> 1) + 1; coarse++) {
      bringRow(low, lowWidth, lowHeight, edgeX, edgeY, coarse, brought, 0, 0);
      doubleRow(brought, slot(doubled, coarse, stride), width);
    }
    // Even rows lie nearer the cell before, odd ones nearer the one after.
    const middle = slot(doubled, y >> 1, stride), near = slot(doubled, (y >> 1) + (y & 1 ? 1 : -1), stride), far = slot(doubled, (y >> 1) - (y & 1 ? 1 : -1), stride);
    const sum = slot(bands, y, stride);
    const row = <usize>y * stride;
    const own = m0 + row, above = m0 + <usize>max(y - 1, 0) * stride, below = m0 + <usize>min(y + 1, height - 1) * stride;
    const dy = (<f32>y - axisY) * pitchY;
    for (let x = 0; x < width; x += GROUP) {
      const dx = middleOf(x, axisX, pitchX);
      const h2 = dx * dx + dy * dy;
      lookUp(record, dx, dy * dy, gains);
      const edge = lane(gains, 9);
      const inverse = <f32>1.0 / max(h2, 1e-9);
      const cos2 = splat((dx * dx - dy * dy) * inverse), sin2 = splat(4 * dx * dy * inverse * cross);
      const end = <usize>min(x + GROUP, width) << 4;
      for (let o = <usize>x << 4; o < end; o += 16) {
        const pixel = v128.load(own + o);
        const twice = add(pixel, pixel);
        const dxx = mul(sub(add(v128.load(own + (o ? o - 16 : 0)), v128.load(own + min(o + 16, last))), twice), sx);
        const dyy = mul(sub(add(v128.load(above + o), v128.load(below + o)), twice), sy);
        let out = add(mul(v128.load(near + o), f1), mul(v128.load(middle + o), f0));
        out = add(add(out, mul(v128.load(far + o), f2)), v128.load(sum + o));
        out = sub(out, mul(add(dxx, dyy), edge));
        out = sub(out, directed(here + o, up + o, down + o, cos2, sin2, sx, sy));
        v128.store(dst + row + o, withAlpha(out, pixel));
      }
    }
  }
}
