// The way down the pyramid: levels expanded to twice their size, and summed with what stands on the next.

import { bringEnds, bringRow, isDark, PAD, rowInPlace, STRIP } from "./rows";
import { add, clear, copy, mul, splat, withAlpha } from "./simd";

// Expanding is the transpose of reducing, times two a direction: a cell's even half sees [5 10 1]/16 of the cells
// before, at and after it, its odd half the mirror image.
export const F0: f32 = 10.0 / 16.0;
export const F1: f32 = 5.0 / 16.0;
export const F2: f32 = 1.0 / 16.0;

// @ts-ignore: decorator
@inline function doublePixel(at: usize, to: usize, f0: v128, f1: v128, f2: v128): void {
  const before = v128.load(at - 16);
  const here = mul(v128.load(at), f0);
  const after = v128.load(at + 16);
  v128.store(to, add(add(mul(before, f1), here), mul(after, f2)));
  v128.store(to + 16, add(add(mul(after, f1), here), mul(before, f2)));
}

function doubleRow(padded: usize, out: usize, width: i32): void {
  const f0 = splat(F0);
  const f1 = splat(F1);
  const f2 = splat(F2);
  let at = padded + (PAD << 4);
  let to = out;
  const fours = out + ((<usize>(width & ~3)) << 4);
  const pairs = out + ((<usize>(width & ~1)) << 4);
  for (; to < fours; at += 32, to += 64) {
    doublePixel(at, to, f0, f1, f2);
    doublePixel(at + 16, to + 32, f0, f1, f2);
  }
  for (; to < pairs; at += 16, to += 32) doublePixel(at, to, f0, f1, f2);
  if (width & 1)
    v128.store(to, add(add(mul(v128.load(at - 16), f1), mul(v128.load(at), f0)), mul(v128.load(at + 16), f2)));
}

// @ts-ignore: decorator
@inline function layPixel(
  before: usize,
  here: usize,
  after: usize,
  under: usize,
  to: usize,
  f0: v128,
  f1: v128,
  f2: v128,
  wu: v128,
): void {
  const pixel = v128.load(under);
  const sum = add(add(mul(v128.load(before), f1), mul(v128.load(here), f0)), mul(v128.load(after), f2));
  v128.store(to, withAlpha(add(sum, mul(pixel, wu)), pixel));
}

/** A row of the picture with the expansion laid over it. */
function layRow(
  before: usize,
  here: usize,
  after: usize,
  under: usize,
  to: usize,
  bytes: usize,
  f0: v128,
  f1: v128,
  f2: v128,
  wu: v128,
): void {
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const a = before + o;
    const b = here + o;
    const c = after + o;
    const u = under + o;
    const t = to + o;
    layPixel(a, b, c, u, t, f0, f1, f2, wu);
    layPixel(a + 16, b + 16, c + 16, u + 16, t + 16, f0, f1, f2, wu);
    layPixel(a + 32, b + 32, c + 32, u + 32, t + 32, f0, f1, f2, wu);
    layPixel(a + 48, b + 48, c + 48, u + 48, t + 48, f0, f1, f2, wu);
  }
  for (; o < bytes; o += 16) layPixel(before + o, here + o, after + o, under + o, to + o, f0, f1, f2, wu);
}

// @ts-ignore: decorator
@inline function joinPixel(
  before: usize,
  here: usize,
  after: usize,
  planeA: usize,
  planeB: usize,
  to: usize,
  f0: v128,
  f1: v128,
  f2: v128,
  wa: v128,
  wb: v128,
): void {
  const sum = add(add(mul(v128.load(before), f1), mul(v128.load(here), f0)), mul(v128.load(after), f2));
  v128.store(to, add(add(sum, mul(v128.load(planeA), wa)), mul(v128.load(planeB), wb)));
}

/** A row of the expansion with two planes added. */
function joinRow(
  before: usize,
  here: usize,
  after: usize,
  planeA: usize,
  planeB: usize,
  to: usize,
  bytes: usize,
  f0: v128,
  f1: v128,
  f2: v128,
  wa: v128,
  wb: v128,
): void {
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const a = before + o;
    const b = here + o;
    const c = after + o;
    const p = planeA + o;
    const q = planeB + o;
    const t = to + o;
    joinPixel(a, b, c, p, q, t, f0, f1, f2, wa, wb);
    joinPixel(a + 16, b + 16, c + 16, p + 16, q + 16, t + 16, f0, f1, f2, wa, wb);
    joinPixel(a + 32, b + 32, c + 32, p + 32, q + 32, t + 32, f0, f1, f2, wa, wb);
    joinPixel(a + 48, b + 48, c + 48, p + 48, q + 48, t + 48, f0, f1, f2, wa, wb);
  }
  for (; o < bytes; o += 16)
    joinPixel(before + o, here + o, after + o, planeA + o, planeB + o, to + o, f0, f1, f2, wa, wb);
}

// @ts-ignore: decorator
@inline function addPixel(
  before: usize,
  here: usize,
  after: usize,
  plane: usize,
  to: usize,
  f0: v128,
  f1: v128,
  f2: v128,
  wa: v128,
): void {
  const sum = add(add(mul(v128.load(before), f1), mul(v128.load(here), f0)), mul(v128.load(after), f2));
  v128.store(to, add(sum, mul(v128.load(plane), wa)));
}

/** A row of the expansion with one plane added. */
function addRow(
  before: usize,
  here: usize,
  after: usize,
  plane: usize,
  to: usize,
  bytes: usize,
  f0: v128,
  f1: v128,
  f2: v128,
  wa: v128,
): void {
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const a = before + o;
    const b = here + o;
    const c = after + o;
    const p = plane + o;
    const t = to + o;
    addPixel(a, b, c, p, t, f0, f1, f2, wa);
    addPixel(a + 16, b + 16, c + 16, p + 16, t + 16, f0, f1, f2, wa);
    addPixel(a + 32, b + 32, c + 32, p + 32, t + 32, f0, f1, f2, wa);
    addPixel(a + 48, b + 48, c + 48, p + 48, t + 48, f0, f1, f2, wa);
  }
  for (; o < bytes; o += 16) addPixel(before + o, here + o, after + o, plane + o, to + o, f0, f1, f2, wa);
}

/** Two planes weighed and added. */
function mixRow(planeA: usize, planeB: usize, to: usize, bytes: usize, wa: v128, wb: v128): void {
  for (let o: usize = 0; o < bytes; o += 16)
    v128.store(to + o, add(mul(v128.load(planeA + o), wa), mul(v128.load(planeB + o), wb)));
}

/** Row `y` of a level at twice the size along x, into `out`: `width` pixels. */
export function expandRow(
  coarse: usize,
  coarseWidth: i32,
  coarseHeight: i32,
  edgeX: f32,
  edgeY: f32,
  y: i32,
  scratch: usize,
  out: usize,
  width: i32,
): void {
  const line = rowInPlace(coarse, coarseWidth, coarseHeight, edgeY, y, 0);
  if (!line) {
    bringRow(coarse, coarseWidth, coarseHeight, edgeX, edgeY, y, scratch, 0, 0);
    doubleRow(scratch, out, width);
    return;
  }
  const end = 2 * (coarseWidth - PAD);
  bringEnds(line, coarseWidth, edgeX, scratch, 0);
  doubleRow(scratch, out, 2 * PAD);
  doubleRow(line, out + (PAD << 5), end - 2 * PAD);
  doubleRow(scratch + STRIP, out + ((<usize>end) << 4), width - end);
}

/**
 * One level down the pyramid, gathering: dst = expand(coarse) + sum of weight_i * plane_i, for up to three planes.
 * `weights`: RGBA weights of the coarse level, then of each plane, then (for the last level) of the picture under it.
 * A pointer of 0 leaves a plane out. With `under`, weight * under is added and its alpha kept.
 */
export function gather(
  coarse: usize,
  coarseWidth: i32,
  coarseHeight: i32,
  edgeX: f32,
  edgeY: f32,
  planeA: usize,
  planeB: usize,
  planeC: usize,
  under: usize,
  dst: usize,
  width: i32,
  height: i32,
  doubleX: i32,
  doubleY: i32,
  weights: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const stride = (<usize>width) << 4;
  const ring = scratch + ((<usize>(coarseWidth + 2 * PAD)) << 4);
  const wc = v128.load(weights);
  const wa = v128.load(weights, 16);
  const wb = v128.load(weights, 32);
  const wd = v128.load(weights, 48);
  const wu = v128.load(weights, 64);
  const f0 = mul(splat(F0), wc);
  const f1 = mul(splat(F1), wc);
  const f2 = mul(splat(F2), wc);
  // Where nothing is laid over the picture and its weight is 1, it is copied.
  const keeps = !v128.any_true(f32x4.ne(v128.replace_lane<f32>(wu, 3, 1), splat(1)));
  // A row that is only expanded along itself goes straight to where it will stand.
  const isRow =
    coarse &&
    doubleX &&
    !doubleY &&
    !planeA &&
    !planeB &&
    !planeC &&
    !under &&
    !v128.any_true(f32x4.ne(v128.replace_lane<f32>(wc, 3, 1), splat(1)));
  let black = 0; // a bit for each row of the ring
  let next = doubleY ? (y0 >> 1) - 1 : y0;
  for (let y = y0; y < y1; y++) {
    const to = dst + <usize>y * stride;
    if (isRow) {
      if (isDark(coarse, coarseWidth, coarseHeight, edgeY, y, 0)) clear(to, stride);
      else expandRow(coarse, coarseWidth, coarseHeight, edgeX, edgeY, y, scratch, to, width);
      continue;
    }
    let before: usize = 0;
    let here: usize = 0;
    let after: usize = 0;
    if (coarse) {
      const centre = doubleY ? y >> 1 : y;
      const last = doubleY ? centre + 1 : y;
      for (; next <= last; next++) {
        const slot = (next + 4) & 3;
        const out = ring + <usize>slot * stride;
        black &= ~(1 << slot);
        if (isDark(coarse, coarseWidth, coarseHeight, edgeY, next, 0)) {
          black |= 1 << slot;
          clear(out, stride);
          continue;
        }
        if (doubleX) expandRow(coarse, coarseWidth, coarseHeight, edgeX, edgeY, next, scratch, out, width);
        else {
          bringRow(coarse, coarseWidth, coarseHeight, edgeX, edgeY, next, scratch, 0, 0);
          copy(out, scratch + (PAD << 4), stride);
        }
      }
      here = ring + <usize>((centre + 4) & 3) * stride;
      before = ring + <usize>((centre + 3) & 3) * stride;
      after = ring + <usize>((centre + 5) & 3) * stride;
      if (y & 1) {
        const swap = before;
        before = after;
        after = swap;
      }
    }
    const row = <usize>y * stride;
    if (coarse && under && !planeA && !planeB && !planeC) {
      const centre = doubleY ? y >> 1 : y;
      const around = doubleY
        ? (1 << (centre & 3)) | (1 << ((centre + 3) & 3)) | (1 << ((centre + 1) & 3))
        : 1 << (centre & 3);
      if (keeps && (black & around) == around) {
        copy(to, under + row, stride);
        continue;
      }
      if (!doubleY) {
        for (let o: usize = 0; o < stride; o += 16) {
          const pixel = v128.load(under + row + o);
          v128.store(to + o, withAlpha(add(mul(v128.load(here + o), wc), mul(pixel, wu)), pixel));
        }
        continue;
      }
      // The common last step of a diffusion: nothing but the expansion, added.
      layRow(before, here, after, under + row, to, stride, f0, f1, f2, wu);
      continue;
    }
    if (coarse && under && doubleY && planeA && !planeB && !planeC) {
      // The same with one plane: a choice a pixel costs more than the sum.
      for (let o: usize = 0; o < stride; o += 16) {
        const pixel = v128.load(under + row + o);
        const sum = add(
          add(mul(v128.load(before + o), f1), mul(v128.load(here + o), f0)),
          mul(v128.load(after + o), f2),
        );
        v128.store(to + o, withAlpha(add(add(sum, mul(v128.load(planeA + row + o), wa)), mul(pixel, wu)), pixel));
      }
      continue;
    }
    if (planeA && !planeC && !under && (coarse ? doubleY != 0 : planeB != 0)) {
      if (!coarse) mixRow(planeA + row, planeB + row, to, stride, wa, wb);
      else if (planeB) joinRow(before, here, after, planeA + row, planeB + row, to, stride, f0, f1, f2, wa, wb);
      else addRow(before, here, after, planeA + row, to, stride, f0, f1, f2, wa);
      continue;
    }
    for (let o: usize = 0; o < stride; o += 16) {
      let sum = splat(0);
      if (coarse) {
        if (doubleY) {
          sum = add(mul(v128.load(before + o), f1), mul(v128.load(here + o), f0));
          sum = add(sum, mul(v128.load(after + o), f2));
        } else sum = mul(v128.load(here + o), wc);
      }
      if (planeA) sum = add(sum, mul(v128.load(planeA + row + o), wa));
      if (planeB) sum = add(sum, mul(v128.load(planeB + row + o), wb));
      if (planeC) sum = add(sum, mul(v128.load(planeC + row + o), wd));
      if (under) {
        const pixel = v128.load(under + row + o);
        sum = withAlpha(add(mul(pixel, wu), sum), pixel);
      }
      v128.store(to + o, sum);
    }
  }
}
