// Separable filters and the pyramid. Every kernel takes whole frames and works on the rows [y0, y1) it is given; each row
// depends on the source only, so that the result is the same however the rows are shared out.
//
// Levels of the pyramid are cell-centred: cell j of a level covers cells 2j and 2j+1 of the level below, so a mirrored
// surround and the optical axis keep their place on every level.

import { keyRow, keyTakes } from "./key";
import { add, clear, copy, mirror, mul, splat, sub, withAlpha } from "./simd";

export const PAD: i32 = 8; // pixels of surround kept on each side of a row

/** Where the mirror of a frame whose edge lies at `edge` cells (perhaps within the last cell) shows index `i`. */
// @ts-ignore: decorator
@inline function reflected(i: i32, n: i32, edge: f32): f32 {
  let at = <f32>i;
  if (at < 0) at = <f32>-1.0 - at;
  if (at >= <f32>n) at = <f32>2.0 * edge - <f32>1.0 - at;
  if (at < 0) at = <f32>-1.0 - at;
  return min(max(at, <f32>0.0), <f32>(n - 1));
}

/**
 * Brings row `y` of a frame into scratch with its surround: mirrored, or black where `black` is set. On levels of the pyramid
 * the frame's edge may lie inside the last cell; what is mirrored about it is taken between cells. `key` 0 takes all light.
 */
export function bringRow(
  source: usize, width: i32, height: i32, edgeX: f32, edgeY: f32, y: i32, row: usize, black: i32, key: usize,
): void {
  const start = row + (PAD << 4);
  const stride = <usize>width << 4;
  const place = reflected(y, height, edgeY);
  const first = <i32>place;
  const share = place - <f32>first;
  const a = source + <usize>first * stride;
  if (share == 0) copy(start, a, stride);
  else {
    const t = splat(share);
    for (let o: usize = 0; o < stride; o += 16) {
      const v = v128.load(a + o);
      v128.store(start + o, add(v, mul(sub(v128.load(a + stride + o), v), t)));
    }
  }
  if (key) keyRow(start, width, key);
  const zero = splat(0);
  for (let i = 1; i <= PAD; i++) {
    v128.store(start - (<usize>i << 4), black ? zero : between(start, reflected(-i, width, edgeX)));
    v128.store(start + (<usize>(width - 1 + i) << 4), black ? zero : between(start, reflected(width - 1 + i, width, edgeX)));
  }
}

/** Whether a row of a frame, found as `bringRow` finds it, is black all along, or holds no light that the key takes. A row between two is not asked. */
function isDark(source: usize, width: i32, height: i32, edgeY: f32, y: i32, key: usize): bool {
  const place = reflected(y, height, edgeY);
  const row = <i32>place;
  if (<f32>row != place) return false;
  const at = source + ((<usize>row * <usize>width) << 4);
  return key ? !keyTakes(at, width, key) : isBlack(at, width);
}

/** Whether a row is black all along; the first light ends the search. */
function isBlack(at: usize, width: i32): bool {
  const end = at + (<usize>width << 4);
  let o = at;
  for (; o + 64 <= end; o += 64) if (v128.any_true(v128.or(v128.or(v128.load(o), v128.load(o, 16)), v128.or(v128.load(o, 32), v128.load(o, 48))))) return false;
  for (; o < end; o += 16) if (v128.any_true(v128.load(o))) return false;
  return true;
}

/** The pixel at a place of a row, between neighbours. */
// @ts-ignore: decorator
@inline function between(start: usize, place: f32): v128 {
  const i = <i32>place;
  const t = place - <f32>i;
  const v = v128.load(start + (<usize>i << 4));
  return t == 0 ? v : add(v, mul(sub(v128.load(start + (<usize>(i + 1) << 4)), v), splat(t)));
}

function blurRow(row: usize, out: usize, width: i32, radius: i32, c0: v128, c1: v128, c2: v128, c3: v128, c4: v128): void {
  let at = row + (PAD << 4);
  const end = at + (<usize>width << 4);
  let to = out;
  if (radius <= 2) {
    for (; at < end; at += 16, to += 16) {
      let sum = mul(v128.load(at), c0);
      sum = add(sum, mul(add(v128.load(at - 16), v128.load(at, 16)), c1));
      sum = add(sum, mul(add(v128.load(at - 32), v128.load(at, 32)), c2));
      v128.store(to, sum);
    }
    return;
  }
  for (; at < end; at += 16, to += 16) {
    let sum = mul(v128.load(at), c0);
    sum = add(sum, mul(add(v128.load(at - 16), v128.load(at, 16)), c1));
    sum = add(sum, mul(add(v128.load(at - 32), v128.load(at, 32)), c2));
    sum = add(sum, mul(add(v128.load(at - 48), v128.load(at, 48)), c3));
    sum = add(sum, mul(add(v128.load(at - 64), v128.load(at, 64)), c4));
    v128.store(to, sum);
  }
}

/**
 * Separable symmetric blur of up to 9 taps a direction. `taps`: ten floats, the centre and four outward for x, then for y.
 * Radius 2 or 4 for each direction, 0 leaves that direction alone. `key`: record of the highlight key, or 0.
 */
export function blur(
  src: usize, dst: usize, width: i32, height: i32, edgeX: f32, edgeY: f32, radiusX: i32, radiusY: i32, taps: usize, black: i32, key: usize,
  scratch: usize, y0: i32, y1: i32,
): void {
  const rowBytes = <usize>(width + 2 * PAD) << 4;
  const ring = scratch + rowBytes;
  const stride = <usize>width << 4;
  const c0 = v128.load32_splat(taps), c1 = v128.load32_splat(taps, 4), c2 = v128.load32_splat(taps, 8);
  const c3 = v128.load32_splat(taps, 12), c4 = v128.load32_splat(taps, 16);
  const d0 = v128.load32_splat(taps, 20), d1 = v128.load32_splat(taps, 24), d2 = v128.load32_splat(taps, 28);
  const d3 = v128.load32_splat(taps, 32), d4 = v128.load32_splat(taps, 36);
  let next = y0 - radiusY;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + radiusY; next++) {
      const out = ring + <usize>((next + 16) & 15) * stride;
      if (black && (next < 0 || next >= height)) {
        clear(out, stride);
        continue;
      }
      if (isDark(src, width, height, edgeY, next, key)) {
        clear(out, stride);
        continue;
      }
      bringRow(src, width, height, edgeX, edgeY, next, scratch, black, key);
      if (radiusX) blurRow(scratch, out, width, radiusX, c0, c1, c2, c3, c4);
      else copy(out, scratch + (PAD << 4), stride);
    }
    const to = dst + <usize>y * stride;
    const r0 = ring + <usize>((y + 16) & 15) * stride;
    if (!radiusY) {
      copy(to, r0, stride);
      continue;
    }
    const a1 = ring + <usize>((y + 15) & 15) * stride, b1 = ring + <usize>((y + 17) & 15) * stride;
    const a2 = ring + <usize>((y + 14) & 15) * stride, b2 = ring + <usize>((y + 18) & 15) * stride;
    if (radiusY <= 2) {
      for (let o: usize = 0; o < stride; o += 16) {
        let sum = mul(v128.load(r0 + o), d0);
        sum = add(sum, mul(add(v128.load(a1 + o), v128.load(b1 + o)), d1));
        sum = add(sum, mul(add(v128.load(a2 + o), v128.load(b2 + o)), d2));
        v128.store(to + o, sum);
      }
      continue;
    }
    const a3 = ring + <usize>((y + 13) & 15) * stride, b3 = ring + <usize>((y + 19) & 15) * stride;
    const a4 = ring + <usize>((y + 12) & 15) * stride, b4 = ring + <usize>((y + 20) & 15) * stride;
    for (let o: usize = 0; o < stride; o += 16) {
      let sum = mul(v128.load(r0 + o), d0);
      sum = add(sum, mul(add(v128.load(a1 + o), v128.load(b1 + o)), d1));
      sum = add(sum, mul(add(v128.load(a2 + o), v128.load(b2 + o)), d2));
      sum = add(sum, mul(add(v128.load(a3 + o), v128.load(b3 + o)), d3));
      sum = add(sum, mul(add(v128.load(a4 + o), v128.load(b4 + o)), d4));
      v128.store(to + o, sum);
    }
  }
}

// The reduce filter [1 5 10 10 5 1]/32 between cells; its transfer cos^5 keeps aliasing under about 0.1 %.
const E0: f32 = 10.0 / 32.0, E1: f32 = 5.0 / 32.0, E2: f32 = 1.0 / 32.0;

function halveRow(padded: usize, out: usize, halfWidth: i32): void {
  const e0 = splat(E0), e1 = splat(E1), e2 = splat(E2);
  let at = padded + (PAD << 4);
  for (let x = 0; x < halfWidth; x++, at += 32) {
    let sum = mul(add(v128.load(at), v128.load(at, 16)), e0);
    sum = add(sum, mul(add(v128.load(at - 16), v128.load(at, 32)), e1));
    sum = add(sum, mul(add(v128.load(at - 32), v128.load(at, 48)), e2));
    v128.store(out + (<usize>x << 4), sum);
  }
}

/** One level up the pyramid: `dst` is ceil(width/2) by ceil(height/2), or keeps a direction whose flag is 0. */
export function reduce(
  src: usize, dst: usize, width: i32, height: i32, edgeX: f32, edgeY: f32, halveX: i32, halveY: i32, black: i32, key: usize,
  scratch: usize, y0: i32, y1: i32,
): void {
  const outWidth = halveX ? (width + 1) >> 1 : width;
  const outStride = <usize>outWidth << 4;
  const stride = <usize>width << 4;
  const ring = scratch + (<usize>(width + 2 * PAD) << 4);
  const e0 = splat(E0), e1 = splat(E1), e2 = splat(E2);
  let next = halveY ? 2 * y0 - 2 : y0;
  for (let y = y0; y < y1; y++) {
    const last = halveY ? 2 * y + 3 : y;
    for (; next <= last; next++) {
      const out = ring + <usize>((next + 8) & 7) * outStride;
      if (black && (next < 0 || next >= height)) {
        clear(out, outStride);
        continue;
      }
      if (isDark(src, width, height, edgeY, next, key)) {
        clear(out, outStride);
        continue;
      }
      bringRow(src, width, height, edgeX, edgeY, next, scratch, black, key);
      if (halveX) halveRow(scratch, out, outWidth);
      else copy(out, scratch + (PAD << 4), outStride);
    }
    const to = dst + <usize>y * outStride;
    if (!halveY) {
      copy(to, ring + <usize>((y + 8) & 7) * outStride, outStride);
      continue;
    }
    const m = 2 * y + 8;
    const a0 = ring + <usize>(m & 7) * outStride, b0 = ring + <usize>((m + 1) & 7) * outStride;
    const a1 = ring + <usize>((m - 1) & 7) * outStride, b1 = ring + <usize>((m + 2) & 7) * outStride;
    const a2 = ring + <usize>((m - 2) & 7) * outStride, b2 = ring + <usize>((m + 3) & 7) * outStride;
    for (let o: usize = 0; o < outStride; o += 16) {
      let sum = mul(add(v128.load(a0 + o), v128.load(b0 + o)), e0);
      sum = add(sum, mul(add(v128.load(a1 + o), v128.load(b1 + o)), e1));
      sum = add(sum, mul(add(v128.load(a2 + o), v128.load(b2 + o)), e2));
      v128.store(to + o, sum);
    }
  }
}

// Expanding is the transpose of reducing, times two a direction: a cell's even half sees [5 10 1]/16 of the cells before,
// at and after it, its odd half the mirror image.
export const F0: f32 = 10.0 / 16.0, F1: f32 = 5.0 / 16.0, F2: f32 = 1.0 / 16.0;

export function doubleRow(padded: usize, out: usize, width: i32): void {
  const f0 = splat(F0), f1 = splat(F1), f2 = splat(F2);
  let at = padded + (PAD << 4);
  for (let x = 0; x < width; x += 2, at += 16) {
    const before = v128.load(at - 16), here = mul(v128.load(at), f0), after = v128.load(at, 16);
    const to = out + (<usize>x << 4);
    v128.store(to, add(add(mul(before, f1), here), mul(after, f2)));
    if (x + 1 < width) v128.store(to, add(add(mul(after, f1), here), mul(before, f2)), 16);
  }
}

/**
 * One level down the pyramid, gathering: dst = expand(coarse) + sum of weight_i * plane_i, for up to three planes.
 * `weights`: RGBA weights of the coarse level, then of each plane, then (for the last level) of the picture under it.
 * A pointer of 0 leaves a plane out. With `under`, weight * under is added and its alpha kept.
 */
export function gather(
  coarse: usize, coarseWidth: i32, coarseHeight: i32, edgeX: f32, edgeY: f32, planeA: usize, planeB: usize, planeC: usize, under: usize, dst: usize,
  width: i32, height: i32, doubleX: i32, doubleY: i32, weights: usize, scratch: usize, y0: i32, y1: i32,
): void {
  const stride = <usize>width << 4;
  const ring = scratch + (<usize>(coarseWidth + 2 * PAD) << 4);
  const wc = v128.load(weights), wa = v128.load(weights, 16), wb = v128.load(weights, 32);
  const wd = v128.load(weights, 48), wu = v128.load(weights, 64);
  const f0 = mul(splat(F0), wc), f1 = mul(splat(F1), wc), f2 = mul(splat(F2), wc);
  // Where nothing is laid over the picture and its weight is 1, it is copied.
  const keeps = !v128.any_true(f32x4.ne(v128.replace_lane<f32>(wu, 3, 1), splat(1)));
  let black = 0; // a bit for each row of the ring
  let next = doubleY ? (y0 >> 1) - 1 : y0;
  for (let y = y0; y < y1; y++) {
    const to = dst + <usize>y * stride;
    let before: usize = 0, here: usize = 0, after: usize = 0;
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
        bringRow(coarse, coarseWidth, coarseHeight, edgeX, edgeY, next, scratch, 0, 0);
        if (doubleX) doubleRow(scratch, out, width);
        else copy(out, scratch + (PAD << 4), stride);
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
      const around = doubleY ? (1 << (centre & 3)) | (1 << ((centre + 3) & 3)) | (1 << ((centre + 1) & 3)) : 1 << (centre & 3);
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
      for (let o: usize = 0; o < stride; o += 16) {
        const pixel = v128.load(under + row + o);
        let sum = add(mul(v128.load(before + o), f1), mul(v128.load(here + o), f0));
        sum = add(add(sum, mul(v128.load(after + o), f2)), mul(pixel, wu));
        v128.store(to + o, withAlpha(sum, pixel));
      }
      continue;
    }
    if (coarse && under && doubleY && planeA && !planeB && !planeC) {
      // The same with one plane: a choice a pixel costs more than the sum.
      for (let o: usize = 0; o < stride; o += 16) {
        const pixel = v128.load(under + row + o);
        const sum = add(add(mul(v128.load(before + o), f1), mul(v128.load(here + o), f0)), mul(v128.load(after + o), f2));
        v128.store(to + o, withAlpha(add(add(sum, mul(v128.load(planeA + row + o), wa)), mul(pixel, wu)), pixel));
      }
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

/**
 * Two-way exponential smear along rows, in place: unit-sum exp(-|n| / length) a lane. `decay`: RGBA of exp(-1 / length).
 * `lead`: pixels of surround run through before the frame, so that the state at its edge is settled.
 */
export function smearRows(
  src: usize, dst: usize, width: i32, height: i32, decay: usize, lead: i32, black: i32,
  scratch: usize, y0: i32, y1: i32,
): void {
  const a = v128.load(decay);
  const one = splat(1);
  const gain = f32x4.div(f32x4.sub(one, a), add(one, a));
  const stride = <usize>width << 4;
  for (let y = y0; y < y1; y++) {
    const from = src + <usize>y * stride;
    const to = dst + <usize>y * stride;
    if (isBlack(from, width)) {
      clear(to, stride);
      continue;
    }
    let state = splat(0);
    if (!black) for (let x = -lead; x < 0; x++) state = add(v128.load(from + (<usize>mirror(x, width) << 4)), mul(state, a));
    for (let o: usize = 0; o < stride; o += 16) {
      state = add(v128.load(from + o), mul(state, a));
      v128.store(scratch + o, state);
    }
    state = splat(0);
    if (!black) for (let x = width + lead - 1; x >= width; x--) state = add(v128.load(from + (<usize>mirror(x, width) << 4)), mul(state, a));
    for (let o: isize = <isize>stride - 16; o >= 0; o -= 16) {
      const carried = mul(state, a);
      v128.store(to + <usize>o, mul(add(v128.load(scratch + <usize>o), carried), gain));
      state = add(v128.load(from + <usize>o), carried);
    }
  }
}
