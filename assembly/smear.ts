// Smears along rows, and along lines of any angle.

import { isBlack } from "./rows";
import { add, clear, integer, mirror, mul, splat, sub } from "./simd";

/**
 * A place of a column of `src` (its `transpose`: of a row), linear between pixels; black outside. `i` counts along x of
 * the skewed frame.
 */
// @ts-ignore: decorator
@inline function lineSample(src: usize, width: i32, height: i32, i: i32, place: f32, transpose: i32): v128 {
  const cell = <i32>Mathf.floor(place);
  const t = place - <f32>cell;
  const size = transpose ? width : height;
  let a = splat(0);
  let b = splat(0);
  if (cell >= 0 && cell < size) a = v128.load(src + ((<usize>(transpose ? i * width + cell : cell * width + i)) << 4));
  if (cell + 1 >= 0 && cell + 1 < size)
    b = v128.load(src + ((<usize>(transpose ? i * width + cell + 1 : (cell + 1) * width + i)) << 4));
  return add(a, mul(sub(b, a), splat(t)));
}

/**
 * The same where both pixels are there: `first` is the line's own pixel 0, `next` the bytes from one of its pixels to
 * the next.
 */
// @ts-ignore: decorator
@inline function insideSample(first: usize, next: usize, place: f32): v128 {
  const whole = floor(place);
  const p = first + <usize>integer(whole) * next;
  const a = v128.load(p);
  return add(a, mul(sub(v128.load(p + next), a), splat(place - whole)));
}

/**
 * Pixels of a row done before the next row's: along a slanted line every one of them lies in another row of the source,
 * which the next row needs again.
 */
const STRETCH: i32 = 16;

/**
 * Brings lines of `slope` onto rows: dst(x, j) = src(x, j - shift + slope x), or with x and y changed over where
 * `transpose` is set.
 */
export function skew(
  src: usize,
  width: i32,
  height: i32,
  dst: usize,
  outWidth: i32,
  slope: f32,
  shift: f32,
  transpose: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  for (let x = 0; x < outWidth; x += STRETCH) {
    const end = min(outWidth, x + STRETCH);
    for (let j = y0; j < y1; j++)
      skewStretch(src, width, height, dst + ((<usize>(j * outWidth)) << 4), x, end, slope, <f32>j - shift, transpose);
  }
}

/** Room for rounding in where a stretch's ends are taken to lie, px. */
const ROOM: f32 = 0.01;

function skewStretch(
  src: usize,
  width: i32,
  height: i32,
  row: usize,
  x0: i32,
  x1: i32,
  slope: f32,
  base: f32,
  transpose: i32,
): void {
  const along: usize = transpose ? (<usize>width) << 4 : 16;
  const next: usize = transpose ? 16 : (<usize>width) << 4;
  const last = <f32>((transpose ? width : height) - 1);
  const a = base + slope * <f32>x0;
  const b = base + slope * <f32>(x1 - 1);
  const low = min(a, b);
  const high = max(a, b);
  if (low > ROOM && high < last - ROOM) {
    for (let x = x0; x < x1; x++)
      v128.store(row + ((<usize>x) << 4), insideSample(src + <usize>x * along, next, base + slope * <f32>x));
  } else if (high < -1 - ROOM || low > last + 1 + ROOM) clear(row + ((<usize>x0) << 4), (<usize>(x1 - x0)) << 4);
  else
    for (let x = x0; x < x1; x++)
      v128.store(row + ((<usize>x) << 4), lineSample(src, width, height, x, base + slope * <f32>x, transpose));
}

/**
 * The way back, added to `sum`: dst(x, y) = sum(x, y) + weight skewed(x, y + shift - slope x); all places lie in the
 * skewed frame. `sum` 0 begins anew.
 */
export function unskew(
  skewed: usize,
  skewedWidth: i32,
  skewedHeight: i32,
  sum: usize,
  dst: usize,
  width: i32,
  slope: f32,
  shift: f32,
  transpose: i32,
  weight: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const w = v128.load(weight);
  const next = (<usize>skewedWidth) << 4;
  const last = <f32>(skewedHeight - 2);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x++) {
      const i = transpose ? y : x;
      const along = transpose ? x : y;
      const at = (<usize>(y * width + x)) << 4;
      const place = min(last, max(0, <f32>along + shift - slope * <f32>i));
      const value = mul(insideSample(skewed + ((<usize>i) << 4), next, place), w);
      v128.store(dst + at, sum ? add(v128.load(sum + at), value) : value);
    }
}

/** One-way exponential smear along rows, of unit sum: to the right, or with `backward` to the left. Black outside. */
export function trailRows(
  src: usize,
  dst: usize,
  width: i32,
  decay: usize,
  backward: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const a = v128.load(decay);
  const gain = sub(splat(1), a);
  for (let y = y0; y < y1; y++) {
    let state = splat(0);
    for (let i = 0; i < width; i++) {
      const at = (<usize>(y * width + (backward ? width - 1 - i : i))) << 4;
      state = add(mul(v128.load(src + at), gain), mul(state, a));
      v128.store(dst + at, state);
    }
  }
}

/**
 * Two-way exponential smear along rows, in place: unit-sum exp(-|n| / length) a lane. `decay`: RGBA of exp(-1 /
 * length). `lead`: pixels of surround run through before the frame, so that the state at its edge is settled.
 */
export function smearRows(
  src: usize,
  dst: usize,
  width: i32,
  height: i32,
  decay: usize,
  lead: i32,
  black: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const a = v128.load(decay);
  const one = splat(1);
  const gain = f32x4.div(f32x4.sub(one, a), add(one, a));
  const stride = (<usize>width) << 4;
  for (let y = y0; y < y1; y++) {
    const from = src + <usize>y * stride;
    const to = dst + <usize>y * stride;
    if (isBlack(from, width)) {
      clear(to, stride);
      continue;
    }
    let state = splat(0);
    if (!black)
      for (let x = -lead; x < 0; x++) state = add(v128.load(from + ((<usize>mirror(x, width)) << 4)), mul(state, a));
    for (let o: usize = 0; o < stride; o += 16) {
      state = add(v128.load(from + o), mul(state, a));
      v128.store(scratch + o, state);
    }
    state = splat(0);
    if (!black)
      for (let x = width + lead - 1; x >= width; x--)
        state = add(v128.load(from + ((<usize>mirror(x, width)) << 4)), mul(state, a));
    for (let o: isize = <isize>stride - 16; o >= 0; o -= 16) {
      const carried = mul(state, a);
      v128.store(to + <usize>o, mul(add(v128.load(scratch + <usize>o), carried), gain));
      state = add(v128.load(from + <usize>o), carried);
    }
  }
}
