// From light to code values: primaries, a curve, and rounding to 8 bits.

import { add, integers, mul, splat, sub, withAlpha } from "./simd";
import {
  CURVE_FIRST,
  CURVE_LAST,
  CURVE_SHIFT,
  CURVE_TABLE,
  MATRIX_FROM_BLUE,
  MATRIX_FROM_GREEN,
  MATRIX_FROM_RED,
} from "./records";

// @ts-ignore: decorator
@inline function matrixPixel(at: usize, c0: v128, c1: v128, c2: v128): void {
  const v = v128.load(at);
  let sum = mul(v128.shuffle<f32>(v, v, 0, 0, 0, 0), c0);
  sum = add(sum, mul(v128.shuffle<f32>(v, v, 1, 1, 1, 1), c1));
  sum = add(sum, mul(v128.shuffle<f32>(v, v, 2, 2, 2, 2), c2));
  v128.store(at, withAlpha(sum, v));
}

/** Three columns of a 3x3 matrix, each an RGBA vector with alpha 0. */
export function matrixRow(row: usize, width: i32, p: usize): void {
  const c0 = v128.load(p, MATRIX_FROM_RED);
  const c1 = v128.load(p, MATRIX_FROM_GREEN);
  const c2 = v128.load(p, MATRIX_FROM_BLUE);
  const end = row + ((<usize>width) << 4);
  const fours = row + ((<usize>(width & ~3)) << 4);
  let at = row;
  for (; at < fours; at += 64) {
    matrixPixel(at, c0, c1, c2);
    matrixPixel(at + 16, c0, c1, c2);
    matrixPixel(at + 32, c0, c1, c2);
    matrixPixel(at + 48, c0, c1, c2);
  }
  for (; at < end; at += 16) matrixPixel(at, c0, c1, c2);
}

/** Mantissa bits below a curve's segment: 256 segments an octave. */

// @ts-ignore: decorator
@inline function curvePixel(at: usize, entries: usize, lowest: v128, highest: v128): void {
  const pixel = v128.load(at);
  const held = f32x4.pmin(highest, f32x4.pmax(lowest, pixel));
  const cell = i32x4.shr_u(held, CURVE_SHIFT);
  const fraction = mul(
    f32x4.convert_i32x4_s(v128.and(held, i32x4.splat((1 << CURVE_SHIFT) - 1))),
    splat(1.0 / <f32>(1 << CURVE_SHIFT)),
  );
  const r = v128.load64_zero(entries + ((<usize>i32x4.extract_lane(cell, 0)) << 2));
  const g = v128.load64_zero(entries + ((<usize>i32x4.extract_lane(cell, 1)) << 2));
  const b = v128.load64_zero(entries + ((<usize>i32x4.extract_lane(cell, 2)) << 2));
  const rg = v128.shuffle<f32>(r, g, 0, 4, 1, 5);
  const here = v128.shuffle<f32>(rg, b, 0, 1, 4, 6);
  const next = v128.shuffle<f32>(rg, b, 2, 3, 5, 7);
  const curved = add(here, mul(sub(next, here), fraction));
  v128.store(at, withAlpha(v128.and(curved, f32x4.ge(pixel, lowest)), pixel));
}

/**
 * A curve by the float's own bits: 256 segments an octave from a first exponent on; black below the first segment, held
 * above the last.
 */
export function curveRow(row: usize, width: i32, p: usize): void {
  const first = load<i32>(p, CURVE_FIRST);
  const last = load<i32>(p, CURVE_LAST);
  // Entries are found by the bits from the segment's up, as bytes: the first one's are taken off the table's address.
  const entries = p + <usize>load<i32>(p, CURVE_TABLE) - ((<usize>first) << 2);
  const lowest = splat(reinterpret<f32>(first << CURVE_SHIFT));
  // One ulp below the table's end, so that the last segment is the last one read.
  const highest = splat(reinterpret<f32>(((first + last) << CURVE_SHIFT) - 1));
  const end = row + ((<usize>width) << 4);
  const fours = row + ((<usize>(width & ~3)) << 4);
  let at = row;
  for (; at < fours; at += 64) {
    curvePixel(at, entries, lowest, highest);
    curvePixel(at + 16, entries, lowest, highest);
    curvePixel(at + 32, entries, lowest, highest);
    curvePixel(at + 48, entries, lowest, highest);
  }
  for (; at < end; at += 16) curvePixel(at, entries, lowest, highest);
}

/** A pixel's light, 0 to 1, as whole numbers to 255, halves upward as files are written. */
// @ts-ignore: decorator
@inline function codes(at: usize): v128 {
  return integers(
    f32x4.floor(add(mul(f32x4.pmin(splat(1), f32x4.pmax(splat(0), v128.load(at))), splat(255)), splat(0.5))),
  );
}

/** Writes a row as 8-bit RGBA code values, rounded to nearest; alpha opaque. */
export function quantiseRow(row: usize, width: i32, out: usize): void {
  const opaque = i32x4.splat(<i32>0xff000000);
  let at = row;
  let to = out;
  const whole = row + ((<usize>(width & ~3)) << 4);
  const end = row + ((<usize>width) << 4);
  for (; at < whole; at += 64, to += 16) {
    const halves = i16x8.narrow_i32x4_s(codes(at), codes(at + 16));
    const others = i16x8.narrow_i32x4_s(codes(at + 32), codes(at + 48));
    v128.store(to, v128.or(i8x16.narrow_i16x8_u(halves, others), opaque));
  }
  for (; at < end; at += 16, to += 4) {
    const halves = i16x8.narrow_i32x4_s(codes(at), codes(at));
    v128.store32_lane(to, v128.or(i8x16.narrow_i16x8_u(halves, halves), opaque), 0);
  }
}
