// Vector arithmetic shared by the kernels. One v128 holds one RGBA pixel of 32-bit floats unless a name says otherwise.
// Only deterministic SIMD instructions are used (no relaxed ones), so every engine gives the same bits.

// @ts-ignore: decorator
@inline export function splat(x: f32): v128 {
  return f32x4.splat(x);
}

// @ts-ignore: decorator
@inline export function mul(a: v128, b: v128): v128 {
  return f32x4.mul(a, b);
}

// @ts-ignore: decorator
@inline export function add(a: v128, b: v128): v128 {
  return f32x4.add(a, b);
}

// @ts-ignore: decorator
@inline export function sub(a: v128, b: v128): v128 {
  return f32x4.sub(a, b);
}

/**
 * The brightest light there is, as src/core/image/clean.ts has it: what gains make of it, and its square, are still
 * numbers.
 */
const BRIGHTEST_LIGHT: f32 = 1099511627776.0;

/** Light within what there is, either sign. For operations whose gains may be large. */
// @ts-ignore: decorator
@inline export function bounded(light: v128): v128 {
  return f32x4.pmin(splat(BRIGHTEST_LIGHT), f32x4.pmax(splat(-BRIGHTEST_LIGHT), light));
}

/** Keeps the first three lanes of `colour` and the fourth of `alpha`. */
// @ts-ignore: decorator
@inline export function withAlpha(colour: v128, alpha: v128): v128 {
  return v128.shuffle<f32>(colour, alpha, 0, 1, 2, 7);
}

/** Half as much again as 2^23: with it added, a float's low bits are those of the nearest whole number. */
const WHOLE: f32 = 12582912;
const WHOLE_BITS: i32 = 0x4b400000;

/** Floats between -2^22 and 2^22 as integers, the nearest. */
// @ts-ignore: decorator
@inline export function integers(whole: v128): v128 {
  return i32x4.sub(add(whole, splat(WHOLE)), i32x4.splat(WHOLE_BITS));
}

/** One float between -2^22 and 2^22 as an integer, the nearest. */
// @ts-ignore: decorator
@inline export function integer(whole: f32): i32 {
  return reinterpret<i32>(whole + WHOLE) - WHOLE_BITS;
}

/**
 * Copies whole vectors, `bytes` a multiple of 16, unless they are there already. The built-in copy goes a word at a
 * time in shared memory.
 */
export function copy(to: usize, from: usize, bytes: usize): void {
  if (to == from) return;
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const a = v128.load(from + o);
    const b = v128.load(from + o, 16);
    const c = v128.load(from + o, 32);
    const d = v128.load(from + o, 48);
    v128.store(to + o, a);
    v128.store(to + o, b, 16);
    v128.store(to + o, c, 32);
    v128.store(to + o, d, 48);
  }
  for (; o < bytes; o += 16) v128.store(to + o, v128.load(from + o));
}

/** Zeros whole vectors, `bytes` a multiple of 16. */
export function clear(to: usize, bytes: usize): void {
  const zero = splat(0);
  for (let o: usize = 0; o < bytes; o += 16) v128.store(to + o, zero);
}

/** Index of the sample that a mirrored surround shows at `i`; the mirror stands on the frame's edge. */
// @ts-ignore: decorator
@inline export function mirror(i: i32, n: i32): i32 {
  if (<u32>i < <u32>n) return i;
  const period = 2 * n;
  let j = i % period;
  if (j < 0) j += period;
  return j < n ? j : period - 1 - j;
}

/** log2 of four positive floats, absolute error about 1e-7. Atanh series on a mantissa in [sqrt(1/2), sqrt 2). */
// @ts-ignore: decorator
@inline export function log2(x: v128): v128 {
  const shifted = i32x4.sub(x, i32x4.splat(0x3f3504f3));
  const exponent = i32x4.shr_s(shifted, 23);
  const mantissa = i32x4.sub(x, i32x4.shl(exponent, 23));
  const one = splat(1);
  const t = f32x4.div(sub(mantissa, one), add(mantissa, one));
  const t2 = mul(t, t);
  let p = splat(0.32059889);
  p = add(mul(p, t2), splat(0.41219858));
  p = add(mul(p, t2), splat(0.57707802));
  p = add(mul(p, t2), splat(0.96179669));
  p = add(mul(p, t2), splat(2.88539008));
  return add(f32x4.convert_i32x4_s(exponent), mul(p, t));
}

/**
 * 2 to the power of four floats, relative error about 1e-7, held within [2^-126, 2^127]. Taylor series on [-1/2, 1/2].
 */
// @ts-ignore: decorator
@inline export function exp2(x: v128): v128 {
  const held = f32x4.pmax(f32x4.pmin(x, splat(127)), splat(-126));
  const whole = f32x4.nearest(held);
  const f = sub(held, whole);
  let p = splat(1.5252734e-5);
  p = add(mul(p, f), splat(1.540353e-4));
  p = add(mul(p, f), splat(1.3333558e-3));
  p = add(mul(p, f), splat(9.6181291e-3));
  p = add(mul(p, f), splat(5.5504109e-2));
  p = add(mul(p, f), splat(2.4022651e-1));
  p = add(mul(p, f), splat(6.9314718e-1));
  p = add(mul(p, f), splat(1));
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return mul(p, scale);
}

/** Four non-negative floats to a power; 0 stays 0. */
// @ts-ignore: decorator
@inline export function pow(x: v128, power: v128): v128 {
  const tiny = splat(1e-30);
  const y = exp2(mul(power, log2(f32x4.pmax(x, tiny))));
  return v128.and(y, f32x4.gt(x, tiny));
}

const QUARTER_TURNS: f32 = 0.63661977; // in a radian
// A quarter turn in three parts, the first two of few bits, so that whole numbers of them are exact (Cody and Waite).
const QUARTER_1: f32 = 1.5703125;
const QUARTER_2: f32 = 4.8351288e-4;
const QUARTER_3: f32 = 3.1385569e-7;

/**
 * Cosines, then sines of four angles (radians, up to some thousands) to `to`, absolute error about 2e-7. Taylor series
 * on an eighth of a turn.
 */
export function storeTurn(angle: v128, to: usize): void {
  const whole = f32x4.nearest(mul(angle, splat(QUARTER_TURNS)));
  const quarters = integers(whole);
  const x = sub(
    sub(sub(angle, mul(whole, splat(QUARTER_1))), mul(whole, splat(QUARTER_2))),
    mul(whole, splat(QUARTER_3)),
  );
  const x2 = mul(x, x);
  const s = add(
    x,
    mul(
      mul(x, x2),
      add(
        splat(-0.16666667),
        mul(x2, add(splat(8.3333333e-3), mul(x2, add(splat(-1.984127e-4), mul(x2, splat(2.7557319e-6)))))),
      ),
    ),
  );
  const c = add(
    splat(1),
    mul(
      x2,
      add(
        splat(-0.5),
        mul(x2, add(splat(4.1666667e-2), mul(x2, add(splat(-1.3888889e-3), mul(x2, splat(2.4801587e-5)))))),
      ),
    ),
  );
  // Every odd quarter changes the two over; signs follow.
  const odd = i32x4.eq(v128.and(quarters, i32x4.splat(1)), i32x4.splat(1));
  const cosSign = i32x4.shl(v128.and(i32x4.add(quarters, i32x4.splat(1)), i32x4.splat(2)), 30);
  const sinSign = i32x4.shl(v128.and(quarters, i32x4.splat(2)), 30);
  v128.store(to, v128.xor(v128.bitselect(s, c, odd), cosSign));
  v128.store(to, v128.xor(v128.bitselect(c, s, odd), sinSign), 16);
}

/** Stores four vectors turned: the first lanes of all at `to`, the second lanes `step` bytes on, and so forth. */
// @ts-ignore: decorator
@inline export function storeTurned(to: usize, step: usize, a: v128, b: v128, c: v128, d: v128): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const abHigh = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cdHigh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
  v128.store(to + step, v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
  v128.store(to + 2 * step, v128.shuffle<f32>(abHigh, cdHigh, 0, 1, 4, 5));
  v128.store(to + 3 * step, v128.shuffle<f32>(abHigh, cdHigh, 2, 3, 6, 7));
}

// @ts-ignore: decorator
@inline export function lane0(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 0, 0, 0, 0);
}
// @ts-ignore: decorator
@inline export function lane1(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 1, 1, 1, 1);
}
// @ts-ignore: decorator
@inline export function lane2(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 2, 2, 2, 2);
}
