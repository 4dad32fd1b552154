// Pixel-local work, fused: a program of small operations is run over each row while the row is in the cache, so that
// any number of neighbouring pixel-local elements cost one reading and one writing of the frame.
//
// A program is a sequence of 16-byte aligned records: word 0 the operation, word 1 the record's length in bytes, then
// its fields from byte 16 on, where `records` says.

import { keyFraction, keyRow } from "./key";
import { balanceRow, blendRow, huesRow, lanesRow, layerRow, leastRow, productRow, sumRow, unsharpRow } from "./layers";
import { grainRow } from "./grain";
import { clampRow, cubeRow, curvesRow, lineRow, offsetRow } from "./transform";
import { curveRow, matrixRow, quantiseRow } from "./view";
import { depthMatte, joinMatte, keyMatte, overlayRow, polygonMatte, shapeMatte } from "./where";
import { add, bounded, clear, copy, exp2, integers, mul, pow, splat, sub, withAlpha } from "./simd";
import {
  BALANCE,
  BLEND,
  CDL,
  CDL_BENDS,
  CDL_LUMINANCE,
  CDL_OFFSET,
  CDL_POWER,
  CDL_SATURATION,
  CDL_SLOPE,
  CLAMP,
  CLEAR,
  CUBE,
  CURVE,
  CURVES,
  DEPTH_MATTE,
  DIFFERENCE,
  DIFFERENCE_AMOUNT,
  DIFFERENCE_BASE,
  GRAIN,
  HUES,
  JOIN_MATTE,
  KEEP,
  KEY_MATTE,
  LANES,
  LAYER,
  LEAST,
  LINE,
  MATRIX,
  MATTE,
  MIX,
  MIX_AMOUNT,
  OFFSET,
  OVERLAY,
  POLYGON_MATTE,
  PRODUCT,
  QUANTISE,
  RADIAL,
  RADIAL_AXIS_X,
  RADIAL_AXIS_Y,
  RADIAL_ENTRIES,
  RADIAL_LAST,
  RADIAL_PITCH_X,
  RADIAL_PITCH_Y,
  RADIAL_TABLE,
  SCRUB,
  SHAPE,
  SHAPE_ACROSS_X,
  SHAPE_ACROSS_Y,
  SHAPE_CENTRE_X,
  SHAPE_CENTRE_Y,
  SHAPE_COLOUR,
  SHAPE_DOWN_X,
  SHAPE_DOWN_Y,
  SHAPE_EXPOSURE,
  SHAPE_LUMINANCE,
  SHAPE_MATTE,
  SHAPE_OUTER,
  SHAPE_POWER,
  SHAPE_SATURATION,
  SUM,
  TAKE,
  UNASSOCIATE,
  UNSHARP,
} from "./records";

/**
 * Gain by image height. The table holds gains against height squared, linear between entries.
 */
function radialRow(row: usize, width: i32, y: i32, p: usize): void {
  const dy = (<f32>y - load<f32>(p, RADIAL_AXIS_Y)) * load<f32>(p, RADIAL_PITCH_Y);
  const axisX = v128.load32_splat(p, RADIAL_AXIS_X);
  const pitch = v128.load32_splat(p, RADIAL_PITCH_X);
  const scale = v128.load32_splat(p, RADIAL_ENTRIES);
  const last = v128.load32_splat(p, RADIAL_LAST);
  const table = p + <usize>load<i32>(p, RADIAL_TABLE);
  const dy2 = splat(dy * dy);
  for (let x = 0; x < width; x += 4) {
    const dx = mul(sub(add(splat(<f32>x), f32x4(0, 1, 2, 3)), axisX), pitch);
    const place = f32x4.pmin(mul(add(mul(dx, dx), dy2), scale), last);
    const entry = f32x4.floor(place);
    const cells = i32x4.shl(integers(entry), 2);
    const a = v128.load64_zero(table + <usize>i32x4.extract_lane(cells, 0));
    const b = v128.load64_zero(table + <usize>i32x4.extract_lane(cells, 1));
    const c = v128.load64_zero(table + <usize>i32x4.extract_lane(cells, 2));
    const d = v128.load64_zero(table + <usize>i32x4.extract_lane(cells, 3));
    const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
    const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
    const here = v128.shuffle<f32>(ab, cd, 0, 1, 4, 5);
    const next = v128.shuffle<f32>(ab, cd, 2, 3, 6, 7);
    const gain = add(here, mul(sub(next, here), sub(place, entry)));
    const at = row + ((<usize>x) << 4);
    gainAt(at, v128.shuffle<f32>(gain, gain, 0, 0, 0, 0));
    if (x + 4 <= width) {
      gainAt(at + 16, v128.shuffle<f32>(gain, gain, 1, 1, 1, 1));
      gainAt(at + 32, v128.shuffle<f32>(gain, gain, 2, 2, 2, 2));
      gainAt(at + 48, v128.shuffle<f32>(gain, gain, 3, 3, 3, 3));
    } else {
      if (x + 1 < width) gainAt(at + 16, v128.shuffle<f32>(gain, gain, 1, 1, 1, 1));
      if (x + 2 < width) gainAt(at + 32, v128.shuffle<f32>(gain, gain, 2, 2, 2, 2));
    }
  }
}

// @ts-ignore: decorator
@inline function gainAt(at: usize, gain: v128): void {
  const v = v128.load(at);
  v128.store(at, withAlpha(bounded(mul(v, gain)), v));
}

/**
 * Shaped gain: a power n of the superellipse |u|^n + |v|^n, from its inner line (1) to its outer one; quintic between
 * them, smooth to the second derivative.
 */
function shapeRow(row: usize, width: i32, y: i32, p: usize): void {
  const dx0 = load<f32>(p, SHAPE_CENTRE_X);
  const dy = <f32>y - load<f32>(p, SHAPE_CENTRE_Y);
  const a = splat(load<f32>(p, SHAPE_ACROSS_X));
  const b = splat(load<f32>(p, SHAPE_ACROSS_Y));
  const c = splat(load<f32>(p, SHAPE_DOWN_X));
  const d = splat(load<f32>(p, SHAPE_DOWN_Y));
  const n = splat(load<f32>(p, SHAPE_POWER));
  const inverse = splat(1 / load<f32>(p, SHAPE_POWER));
  const reach = splat(1 / max(load<f32>(p, SHAPE_OUTER) - 1, 1e-6));
  const stops = splat(load<f32>(p, SHAPE_EXPOSURE));
  const saturation = load<f32>(p, SHAPE_SATURATION);
  const ellipse = load<f32>(p, SHAPE_POWER) == 2;
  const one = splat(1);
  const steps = f32x4(0, 1, 2, 3);
  const vy = splat(dy);
  const luma = v128.load(p, SHAPE_LUMINANCE);
  const colour = sub(v128.load(p, SHAPE_COLOUR), splat(1));
  for (let x = 0; x < width; x += 4) {
    const vx = sub(add(splat(<f32>x), steps), splat(dx0));
    const u = f32x4.abs(add(mul(vx, a), mul(vy, b)));
    const v = f32x4.abs(add(mul(vx, c), mul(vy, d)));
    const rho = ellipse ? f32x4.sqrt(add(mul(u, u), mul(v, v))) : pow(add(pow(u, n), pow(v, n)), inverse);
    const t = f32x4.pmax(splat(0), f32x4.pmin(one, mul(sub(rho, one), reach)));
    const t3 = mul(mul(t, t), t);
    const outside = mul(t3, add(mul(t, sub(mul(t, splat(6)), splat(15))), splat(10)));
    const gain = exp2(mul(outside, stops));
    const keep = add(one, mul(outside, splat(saturation - 1)));
    for (let i = 0; i < 4 && x + i < width; i++) {
      const at = row + ((<usize>(x + i)) << 4);
      const pixel = v128.load(at);
      let g: v128;
      let k: v128;
      let o: v128;
      if (i == 0) {
        g = v128.shuffle<f32>(gain, gain, 0, 0, 0, 0);
        k = v128.shuffle<f32>(keep, keep, 0, 0, 0, 0);
        o = v128.shuffle<f32>(outside, outside, 0, 0, 0, 0);
      } else if (i == 1) {
        g = v128.shuffle<f32>(gain, gain, 1, 1, 1, 1);
        k = v128.shuffle<f32>(keep, keep, 1, 1, 1, 1);
        o = v128.shuffle<f32>(outside, outside, 1, 1, 1, 1);
      } else if (i == 2) {
        g = v128.shuffle<f32>(gain, gain, 2, 2, 2, 2);
        k = v128.shuffle<f32>(keep, keep, 2, 2, 2, 2);
        o = v128.shuffle<f32>(outside, outside, 2, 2, 2, 2);
      } else {
        g = v128.shuffle<f32>(gain, gain, 3, 3, 3, 3);
        k = v128.shuffle<f32>(keep, keep, 3, 3, 3, 3);
        o = v128.shuffle<f32>(outside, outside, 3, 3, 3, 3);
      }
      let out = pixel;
      if (saturation != 1) {
        const grey = greyOf(pixel, luma);
        out = add(grey, mul(sub(pixel, grey), k));
      }
      v128.store(at, withAlpha(bounded(mul(out, mul(g, add(one, mul(colour, o))))), pixel));
    }
  }
}

/** The weighted sum of a pixel's channels, in every lane. */
// @ts-ignore: decorator
@inline function greyOf(pixel: v128, weights: v128): v128 {
  const w = mul(pixel, weights);
  const sum = add(
    add(v128.shuffle<f32>(w, w, 0, 0, 0, 0), v128.shuffle<f32>(w, w, 1, 1, 1, 1)),
    v128.shuffle<f32>(w, w, 2, 2, 2, 2),
  );
  return sum;
}

/** ASC CDL: slope, offset and power of each channel, then saturation. */
function cdlRow(row: usize, width: i32, p: usize): void {
  const slope = v128.load(p, CDL_SLOPE);
  const offset = v128.load(p, CDL_OFFSET);
  const power = v128.load(p, CDL_POWER);
  const weights = v128.load(p, CDL_LUMINANCE);
  const saturation = splat(load<f32>(p, CDL_SATURATION));
  const bend = load<i32>(p, CDL_BENDS);
  const end = row + ((<usize>width) << 4);
  const zero = splat(0);
  for (let at = row; at < end; at += 16) {
    const v = v128.load(at);
    let out = bounded(add(mul(v, slope), offset));
    // Light below zero has no power; it passes, as in the standard's unclamped style.
    if (bend) out = v128.bitselect(pow(f32x4.pmax(out, zero), power), out, f32x4.gt(out, zero));
    out = bounded(out);
    const grey = greyOf(out, weights);
    out = add(grey, mul(sub(out, grey), saturation));
    v128.store(at, withAlpha(out, v));
  }
}

/** row = kept + (row - kept) * amount. */
function mixRow(row: usize, kept: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p, MIX_AMOUNT);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const before = v128.load(kept + o);
    v128.store(row + o, add(before, mul(sub(v128.load(row + o), before), amount)));
  }
}

/** The key as a picture: how much of each pixel's light is taken, grey, 0 to 1. */
function matteRow(row: usize, width: i32, key: usize): void {
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    v128.store(row + o, withAlpha(keyFraction(v, key), v));
  }
}

/** Light over its alpha, where that is neither all nor none. */
function unassociateRow(row: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    const alpha = f32x4.extract_lane(v, 3);
    if (alpha < 1 && alpha > 0) v128.store(row + o, withAlpha(bounded(f32x4.div(v, splat(alpha))), v));
  }
}

/** Replaces what is not finite by 0. */
function scrubRow(row: usize, width: i32): void {
  const limit = splat(Infinity);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    v128.store(row + o, v128.and(v, f32x4.lt(f32x4.abs(v), limit)));
  }
}

/** row = base * other + (row - other) * amount. */
function differenceRow(row: usize, other: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p, DIFFERENCE_AMOUNT);
  const base = v128.load32_splat(p, DIFFERENCE_BASE);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    const w = v128.load(other + o);
    v128.store(row + o, withAlpha(bounded(add(mul(w, base), mul(sub(v, w), amount))), v));
  }
}

function endsIn(kind: i32, program: usize, count: i32): bool {
  let record = program;
  for (let i = 1; i < count; i++) record += <usize>load<i32>(record, 4);
  return count > 0 && load<i32>(record) == kind;
}

/**
 * Runs a program of `count` operations over rows of `src` into `dst`; a last QUANTISE makes `dst` 8-bit RGBA. `other`
 * and `third` are further frames for the operations that need them, or 0.
 */
export function pointwise(
  src: usize,
  other: usize,
  third: usize,
  dst: usize,
  width: i32,
  program: usize,
  count: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const bytes = (<usize>width) << 4;
  const kept = scratch + bytes + 64;
  const state = kept + bytes + 64;
  const isQuantised = endsIn(QUANTISE, program, count);
  for (let y = y0; y < y1; y++) {
    // Floats are worked on where they will stay; what becomes 8 bits is not.
    const row = isQuantised ? scratch : dst + <usize>y * bytes;
    copy(row, src + <usize>y * bytes, bytes);
    let record = program;
    for (let i = 0; i < count; i++) {
      const kind = load<i32>(record);
      const p = record + 16;
      if (kind == MATRIX) matrixRow(row, width, p);
      else if (kind == RADIAL) radialRow(row, width, y, p);
      else if (kind == SHAPE) shapeRow(row, width, y, p);
      else if (kind == CDL) cdlRow(row, width, p);
      else if (kind == CURVE) curveRow(row, width, p);
      else if (kind == GRAIN) grainRow(row, width, y, y0, p, state);
      else if (kind == KEEP) copy(kept, row, bytes);
      else if (kind == MIX) mixRow(row, kept, width, p);
      else if (kind == MATTE) matteRow(row, width, p);
      else if (kind == SCRUB) scrubRow(row, width);
      else if (kind == DIFFERENCE) differenceRow(row, other + <usize>y * bytes, width, p);
      else if (kind == CURVES) curvesRow(row, width, p);
      else if (kind == LINE) lineRow(row, width, p);
      else if (kind == CUBE) cubeRow(row, width, p);
      else if (kind == CLAMP) clampRow(row, width, p);
      else if (kind == OFFSET) offsetRow(row, width, p);
      else if (kind == LANES) lanesRow(row, other + <usize>y * bytes, third + <usize>y * bytes, width, p);
      else if (kind == BLEND) blendRow(row, other + <usize>y * bytes, third + <usize>y * bytes, width);
      else if (kind == PRODUCT) productRow(row, other + <usize>y * bytes, width);
      else if (kind == LEAST) leastRow(row, third + <usize>y * bytes, width, p);
      else if (kind == UNSHARP) unsharpRow(row, other + <usize>y * bytes, width, p);
      else if (kind == LAYER) layerRow(row, other + <usize>y * bytes, width, y, p);
      else if (kind == BALANCE) balanceRow(row, width, p);
      else if (kind == CLEAR) clear(row, bytes);
      else if (kind == SHAPE_MATTE) shapeMatte(row, width, y, p);
      else if (kind == POLYGON_MATTE) polygonMatte(row, width, y, p);
      else if (kind == KEY_MATTE) keyMatte(row, kept, width, p);
      else if (kind == DEPTH_MATTE) depthMatte(row, other + <usize>y * bytes, width, p);
      else if (kind == JOIN_MATTE) joinMatte(row, other + <usize>y * bytes, width, p);
      else if (kind == OVERLAY) overlayRow(row, other + <usize>y * bytes, width, p);
      else if (kind == TAKE) keyRow(row, width, p);
      else if (kind == HUES) huesRow(row, width, p);
      else if (kind == UNASSOCIATE) unassociateRow(row, width);
      else if (kind == SUM) sumRow(row, other + <usize>y * bytes, width);
      else if (kind == QUANTISE) quantiseRow(row, width, dst + <usize>y * ((<usize>width) << 2));
      record += <usize>load<i32>(record, 4);
    }
  }
}
