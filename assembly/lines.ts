// Lines of an OpenEXR chunk: samples to and from their low and high bytes, and bytes to and from their differences.
// The rules are the format's (OpenEXR, "Technical Introduction" and "File Layout": half, ZIP). How a float is rounded
// to a half is src/core/maths/half.ts's, bit for bit.

/** A float's mantissa has so many bits more than a half's. */
const MANTISSA: i32 = 13;
/** Floats' exponents count from 127, halves' from 15: the difference, at a float's exponent. */
const REBASE: i32 = 0x38000000;
/** 2^112, by which a half's bits, moved to a float's places, are its value. */
const REBASED: i32 = 0x77800000;
/** The smallest float that is a normal half. */
const MIN_NORMAL: i32 = 0x38800000;
/** Added to a smaller one, it leaves the half's bits below its own: a unit there is 2^-24. */
const SUBNORMAL: i32 = 0x3f000000;
/** From here on a float is nearer to what no half holds, and becomes the largest half. */
const OVERFLOW: i32 = 0x477ff000;
const MAX_HALF: i32 = 0x7bff;
const INFINITY: i32 = 0x7f800000;
const NO_NUMBER: i32 = 0x7e00;
/** A half's exponent of all ones: infinite, or no number. */
const EXPONENT: i32 = 0x7c00;
const SIGN: i32 = 0x8000;
/** What a difference of bytes is counted from. */
const PREDICTED: i32 = 128;

/** The nearest halves to four floats, by their bits; ties to even, and what is too large becomes the largest half. */
// @ts-ignore: decorator
@inline function halvesOf(bits: v128): v128 {
  const sign = v128.and(i32x4.shr_u(bits, 16), i32x4.splat(SIGN));
  const magnitude = v128.and(bits, i32x4.splat(0x7fffffff));
  const odd = v128.and(i32x4.shr_u(magnitude, MANTISSA), i32x4.splat(1));
  const rounded = i32x4.add(i32x4.add(magnitude, i32x4.splat(0xfff)), odd);
  const normal = i32x4.shr_u(i32x4.sub(rounded, i32x4.splat(REBASE)), MANTISSA);
  const unit = i32x4.splat(SUBNORMAL);
  const subnormal = i32x4.sub(f32x4.add(magnitude, unit), unit);
  let half = v128.bitselect(subnormal, normal, i32x4.lt_s(magnitude, i32x4.splat(MIN_NORMAL)));
  half = v128.bitselect(i32x4.splat(MAX_HALF), half, i32x4.ge_s(magnitude, i32x4.splat(OVERFLOW)));
  half = v128.bitselect(i32x4.splat(NO_NUMBER), half, i32x4.gt_s(magnitude, i32x4.splat(INFINITY)));
  return v128.or(half, sign);
}

/** Floats of four halves by their bits. */
// @ts-ignore: decorator
@inline function floatsOf(halves: v128): v128 {
  const magnitude = v128.and(halves, i32x4.splat(0x7fff));
  const value = f32x4.mul(i32x4.shl(magnitude, MANTISSA), i32x4.splat(REBASED));
  const isEndless = i32x4.ge_s(magnitude, i32x4.splat(EXPONENT));
  const sign = i32x4.shl(v128.and(halves, i32x4.splat(SIGN)), 16);
  return v128.or(v128.or(value, sign), v128.and(isEndless, i32x4.splat(INFINITY)));
}

/** Four samples, `step` bytes apart. */
// @ts-ignore: decorator
@inline function four(from: usize, step: usize): v128 {
  if (step == 4) return v128.load(from);
  return i32x4(load<i32>(from), load<i32>(from + step), load<i32>(from + 2 * step), load<i32>(from + 3 * step));
}

/** `count` floats, `step` bytes apart, as halves: their low bytes, and their high ones. */
export function splitHalves(from: usize, step: usize, count: i32, low: usize, high: usize): void {
  const lows = i16x8.splat(0xff);
  let i = 0;
  for (; i + 16 <= count; i += 16, from += 16 * step) {
    const near = i16x8.narrow_i32x4_u(halvesOf(four(from, step)), halvesOf(four(from + 4 * step, step)));
    const far = i16x8.narrow_i32x4_u(halvesOf(four(from + 8 * step, step)), halvesOf(four(from + 12 * step, step)));
    v128.store(low + i, i8x16.narrow_i16x8_u(v128.and(near, lows), v128.and(far, lows)));
    v128.store(high + i, i8x16.narrow_i16x8_u(i16x8.shr_u(near, 8), i16x8.shr_u(far, 8)));
  }
  for (; i < count; i++, from += step) {
    const half = i32x4.extract_lane(halvesOf(i32x4.splat(load<i32>(from))), 0);
    store<u8>(low + i, half);
    store<u8>(high + i, half >> 8);
  }
}

/** `count` samples of 32 bits, `step` bytes apart: the low bytes of their words of 16 bits, and the high ones. */
export function splitWords(from: usize, step: usize, count: i32, low: usize, high: usize): void {
  for (let i = 0; i < count; i++, from += step, low += 2, high += 2) {
    const bits = load<u32>(from);
    store<u8>(low, bits);
    store<u8>(high, bits >> 8);
    store<u8>(low, bits >> 16, 1);
    store<u8>(high, bits >> 24, 1);
  }
}

/** Halves from their low and high bytes, as `count` floats `step` bytes apart. Whether all of them are finite. */
export function joinHalves(low: usize, high: usize, count: i32, to: usize, step: usize): bool {
  let endless = i16x8.splat(0);
  const exponent = i16x8.splat(<i16>EXPONENT);
  let i = 0;
  for (; i + 8 <= count; i += 8, to += 8 * step) {
    const bytes = v128.load64_zero(low + i);
    const halves = v128.shuffle<i8>(
      bytes,
      v128.load64_zero(high + i),
      0,
      16,
      1,
      17,
      2,
      18,
      3,
      19,
      4,
      20,
      5,
      21,
      6,
      22,
      7,
      23,
    );
    endless = v128.or(endless, i16x8.eq(v128.and(halves, exponent), exponent));
    lay(floatsOf(i32x4.extend_low_i16x8_u(halves)), to, step);
    lay(floatsOf(i32x4.extend_high_i16x8_u(halves)), to + 4 * step, step);
  }
  let isFinite = !v128.any_true(endless);
  for (; i < count; i++, to += step) {
    const half = (<i32>load<u8>(low + i)) | ((<i32>load<u8>(high + i)) << 8);
    if ((half & EXPONENT) == EXPONENT) isFinite = false;
    store<i32>(to, i32x4.extract_lane(floatsOf(i32x4.splat(half)), 0));
  }
  return isFinite;
}

/** Four samples, `step` bytes apart. */
// @ts-ignore: decorator
@inline function lay(samples: v128, to: usize, step: usize): void {
  if (step == 4) {
    v128.store(to, samples);
    return;
  }
  v128.store_lane<i32>(to, samples, 0);
  v128.store_lane<i32>(to + step, samples, 1);
  v128.store_lane<i32>(to + 2 * step, samples, 2);
  v128.store_lane<i32>(to + 3 * step, samples, 3);
}

/** Samples of 32 bits from the low and high bytes of their words, `count` of them, `step` bytes apart. */
export function joinWords(low: usize, high: usize, count: i32, to: usize, step: usize): void {
  for (let i = 0; i < count; i++, low += 2, high += 2, to += step) {
    const lower = (<u32>load<u8>(low)) | ((<u32>load<u8>(high)) << 8);
    const upper = (<u32>load<u8>(low, 1)) | ((<u32>load<u8>(high, 1)) << 8);
    store<u32>(to, lower | (upper << 16));
  }
}

/** Each byte less the one before it; the first as it is. `out` is elsewhere. */
export function takeDifferences(bytes: usize, count: i32, out: usize): void {
  if (!count) return;
  store<u8>(out, load<u8>(bytes));
  const middle = i8x16.splat(<i8>PREDICTED);
  let i = 1;
  for (; i + 16 <= count; i += 16) {
    const at = bytes + i;
    v128.store(out + i, i8x16.add(i8x16.sub(v128.load(at), v128.load(at - 1)), middle));
  }
  for (; i < count; i++) store<u8>(out + i, load<u8>(bytes + i) - load<u8>(bytes + i - 1) + PREDICTED);
}

/** Undoes `takeDifferences`, where the bytes are. */
export function addDifferences(bytes: usize, count: i32): void {
  if (!count) return;
  const none = i8x16.splat(0);
  const middle = i8x16.splat(<i8>PREDICTED);
  // The first byte is no difference.
  store<u8>(bytes, load<u8>(bytes) + PREDICTED);
  let before = none;
  let i = 0;
  for (; i + 16 <= count; i += 16) {
    // Each byte and the one before it, then the two before these, and so on.
    let sum = i8x16.sub(v128.load(bytes + i), middle);
    sum = i8x16.add(sum, v128.shuffle<i8>(none, sum, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30));
    sum = i8x16.add(sum, v128.shuffle<i8>(none, sum, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29));
    sum = i8x16.add(sum, v128.shuffle<i8>(none, sum, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27));
    sum = i8x16.add(sum, v128.shuffle<i8>(none, sum, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23));
    sum = i8x16.add(sum, before);
    v128.store(bytes + i, sum);
    before = i8x16.splat(<i8>i8x16.extract_lane_u(sum, 15));
  }
  let last: u32 = i8x16.extract_lane_u(before, 15);
  for (; i < count; i++) {
    last += load<u8>(bytes + i) - PREDICTED;
    store<u8>(bytes + i, last);
  }
}

/** Bytes by turns, `count` of each, one of `low` first. */
export function joinBytes(low: usize, high: usize, count: i32, out: usize): void {
  let i = 0;
  for (; i + 16 <= count; i += 16) {
    const even = v128.load(low + i);
    const odd = v128.load(high + i);
    const to = out + 2 * i;
    v128.store(to, v128.shuffle<i8>(even, odd, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
    v128.store(to, v128.shuffle<i8>(even, odd, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31), 16);
  }
  for (; i < count; i++) {
    store<u8>(out + 2 * i, load<u8>(low + i));
    store<u8>(out + 2 * i, load<u8>(high + i), 1);
  }
}

/** Undoes `joinBytes`: `count` is of each. */
export function splitBytes(bytes: usize, count: i32, low: usize, high: usize): void {
  let i = 0;
  for (; i + 16 <= count; i += 16) {
    const near = v128.load(bytes + 2 * i);
    const far = v128.load(bytes + 2 * i, 16);
    v128.store(low + i, v128.shuffle<i8>(near, far, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30));
    v128.store(high + i, v128.shuffle<i8>(near, far, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31));
  }
  for (; i < count; i++) {
    store<u8>(low + i, load<u8>(bytes + 2 * i));
    store<u8>(high + i, load<u8>(bytes + 2 * i, 1));
  }
}
