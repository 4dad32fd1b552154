// Film grain as fresh, filtered, counter-based noise: each value is a hash of (seed, frame, x, y, layer), so any row
// can be made on its own and a frame always gets the same pattern.

import { add, mul, splat, sub, withAlpha } from "./simd";
import {
  GRAIN_COMMON,
  GRAIN_HIGHLIGHT,
  GRAIN_HIGHLIGHT_AT,
  GRAIN_LAYERS,
  GRAIN_MAX_RADIUS,
  GRAIN_MIDDLE,
  GRAIN_OWN,
  GRAIN_RADIUS,
  GRAIN_SEED,
  GRAIN_SHADOW,
  GRAIN_SHADOW_AT,
  GRAIN_TAPS,
  LOG2_MID_GREY,
} from "./records";

/** Largest radius of the filter, px; src/core/elements/grain/grain.ts keeps to it. */

/** lowbias32 (Wellons, 2018): an integer hash with low bias, four lanes at once. */
// @ts-ignore: decorator
@inline export function hash(v: v128): v128 {
  let x = v;
  x = v128.xor(x, i32x4.shr_u(x, 16));
  x = i32x4.mul(x, i32x4.splat(0x7feb352d));
  x = v128.xor(x, i32x4.shr_u(x, 15));
  x = i32x4.mul(x, i32x4.splat(0x846ca68b));
  return v128.xor(x, i32x4.shr_u(x, 16));
}

const DEVIATION: f32 = 1.0 / 147.8009; // of the sum of four uniform bytes: sqrt(4 * (256^2 - 1) / 12)
const MEAN: i32 = 510;

/** What a column's number is multiplied by, so that neighbours differ in many bits. */
// @ts-ignore: decorator
@inline function columnAt(x: i32): v128 {
  return i32x4.splat(x * 0x165667b1);
}

/**
 * White noise at a column of a row, near normal: the sum of a hash's four bytes, mean 0, not yet scaled; lanes R, G, B,
 * common.
 */
// @ts-ignore: decorator
@inline function white(row: v128, layers: v128, column: v128): v128 {
  const h = hash(i32x4.add(v128.xor(row, column), layers));
  const bytes = i32x4.dot_i16x8_s(i16x8.extadd_pairwise_i8x16_u(h), i16x8.splat(1));
  return f32x4.convert_i32x4_s(i32x4.sub(bytes, i32x4.splat(MEAN)));
}

/**
 * Fills a row of the ring: white noise filtered along the row. Up to two taps a side run on a window held in registers.
 */
function fillRow(to: usize, scratch: usize, width: i32, y: i32, seed: i32, radius: i32, taps: usize): void {
  const row = i32x4.splat((y * 0x27d4eb2f) ^ seed);
  const layers = i32x4(0, 0x3c6ef372, 0x78dde6e5, <i32>0xb54cda57);
  if (radius > 2) {
    const end = ((width + 3) & ~3) + radius;
    for (let x = -radius; x < end; x++)
      v128.store(scratch + ((<usize>(x + GRAIN_MAX_RADIUS)) << 4), white(row, layers, columnAt(x)));
    filter(scratch + (GRAIN_MAX_RADIUS << 4), to, width, radius, taps);
    return;
  }
  const unit = splat(DEVIATION);
  const t0 = mul(v128.load32_splat(taps), unit);
  const t1 = mul(v128.load32_splat(taps, 4), unit);
  const t2 = mul(v128.load32_splat(taps, 8), unit);
  let a = white(row, layers, columnAt(-2));
  let b = white(row, layers, columnAt(-1));
  let c = white(row, layers, columnAt(0));
  let d = white(row, layers, columnAt(1));
  let column = columnAt(2);
  const step = columnAt(1);
  // Four at a turn, after which the window stands where it stood; the row has room for the last turn.
  for (let x = 0; x < width; x += 4) {
    const at = to + ((<usize>x) << 4);
    const e = white(row, layers, column);
    v128.store(at, add(add(mul(c, t0), mul(add(b, d), t1)), mul(add(a, e), t2)));
    column = i32x4.add(column, step);
    const f = white(row, layers, column);
    v128.store(at, add(add(mul(d, t0), mul(add(c, e), t1)), mul(add(b, f), t2)), 16);
    column = i32x4.add(column, step);
    const g = white(row, layers, column);
    v128.store(at, add(add(mul(e, t0), mul(add(d, f), t1)), mul(add(c, g), t2)), 32);
    column = i32x4.add(column, step);
    const h = white(row, layers, column);
    v128.store(at, add(add(mul(f, t0), mul(add(e, g), t1)), mul(add(d, h), t2)), 48);
    column = i32x4.add(column, step);
    a = e;
    b = f;
    c = g;
    d = h;
  }
}

/**
 * Filters a row of noise along itself, by more than two taps a side; `at` has as many pixels on each side. The first
 * three go in one sweep, each further one in a sweep of its own.
 */
function filter(at: usize, to: usize, width: i32, radius: i32, taps: usize): void {
  const unit = splat(DEVIATION);
  const t0 = mul(v128.load32_splat(taps), unit);
  const t1 = mul(v128.load32_splat(taps, 4), unit);
  const t2 = mul(v128.load32_splat(taps, 8), unit);
  const t3 = mul(v128.load32_splat(taps, 12), unit);
  const bytes = bytesOf(width);
  for (let o: usize = 0; o < bytes; o += 64) {
    const a = at + o;
    const t = to + o;
    sevenPixel(a, a - 16, a + 16, a - 32, a + 32, a - 48, a + 48, t, t0, t1, t2, t3);
    sevenPixel(a + 16, a, a + 32, a - 16, a + 48, a - 32, a + 64, t + 16, t0, t1, t2, t3);
    sevenPixel(a + 32, a + 16, a + 48, a, a + 64, a - 16, a + 80, t + 32, t0, t1, t2, t3);
    sevenPixel(a + 48, a + 32, a + 64, a + 16, a + 80, a, a + 96, t + 48, t0, t1, t2, t3);
  }
  for (let i = 4; i <= radius; i++)
    addPair(
      at - ((<usize>i) << 4),
      at + ((<usize>i) << 4),
      to,
      bytes,
      mul(unit, v128.load32_splat(taps + ((<usize>i) << 2))),
    );
}

// @ts-ignore: decorator
@inline function pairPixel(a: usize, b: usize, to: usize, t: v128): void {
  v128.store(to, add(v128.load(to), mul(add(v128.load(a), v128.load(b)), t)));
}

/** to += (a + b) t, a row of whole fours. */
function addPair(a: usize, b: usize, to: usize, bytes: usize, t: v128): void {
  for (let o: usize = 0; o < bytes; o += 64) {
    const p = a + o;
    const q = b + o;
    const r = to + o;
    pairPixel(p, q, r, t);
    pairPixel(p + 16, q + 16, r + 16, t);
    pairPixel(p + 32, q + 32, r + 32, t);
    pairPixel(p + 48, q + 48, r + 48, t);
  }
}

/** Brings the ring's rows up to y + radius, in order from y0. Noise past the ring's end begins over its first rows. */
function fillRing(ring: usize, scratch: usize, width: i32, y: i32, y0: i32, seed: i32, radius: i32, taps: usize): void {
  const begin = y == y0 ? y - radius : y + radius;
  for (let r = begin; r <= y + radius; r++)
    fillRow(ringRow(ring, r, width, radius), scratch, width, r, seed, radius, taps);
}

/**
 * Rows of a ring: a power of 2 that holds a row, `radius` on either side of it and the one that is filled next; small,
 * to stay in the cache.
 */
// @ts-ignore: decorator
@inline function ringRows(radius: i32): i32 {
  return radius <= 3 ? 8 : radius <= 15 ? 32 : 128;
}

// @ts-ignore: decorator
@inline function ringRow(ring: usize, y: i32, width: i32, radius: i32): usize {
  return ring + <usize>((y + 128) & (ringRows(radius) - 1)) * bytesOf(width);
}

/** Bytes of a row of noise, with room to make it four pixels at a time. */
// @ts-ignore: decorator
@inline function bytesOf(width: i32): usize {
  return (<usize>((width + 3) & ~3)) << 4;
}

// @ts-ignore: decorator
@inline function fivePixel(
  centre: usize,
  a1: usize,
  b1: usize,
  a2: usize,
  b2: usize,
  to: usize,
  t0: v128,
  t1: v128,
  t2: v128,
): void {
  const sides = add(mul(add(v128.load(a1), v128.load(b1)), t1), mul(add(v128.load(a2), v128.load(b2)), t2));
  v128.store(to, add(mul(v128.load(centre), t0), sides));
}

// @ts-ignore: decorator
@inline function sevenPixel(
  centre: usize,
  a1: usize,
  b1: usize,
  a2: usize,
  b2: usize,
  a3: usize,
  b3: usize,
  to: usize,
  t0: v128,
  t1: v128,
  t2: v128,
  t3: v128,
): void {
  const sides = add(mul(add(v128.load(a1), v128.load(b1)), t1), mul(add(v128.load(a2), v128.load(b2)), t2));
  v128.store(to, add(add(mul(v128.load(centre), t0), mul(add(v128.load(a3), v128.load(b3)), t3)), sides));
}

/**
 * Filters row y down the ring into `out`. The first two or three taps a side go in one sweep, each further one in a
 * sweep of its own.
 */
function columnRow(ring: usize, out: usize, width: i32, y: i32, radius: i32, taps: usize): void {
  const bytes = bytesOf(width);
  const centre = ringRow(ring, y, width, radius);
  // Where the filter is narrower its further taps are 0; rows that are not there are not read.
  const near = min(radius, 1);
  const far = min(radius, 2);
  const a1 = ringRow(ring, y - near, width, radius);
  const b1 = ringRow(ring, y + near, width, radius);
  const a2 = ringRow(ring, y - far, width, radius);
  const b2 = ringRow(ring, y + far, width, radius);
  const t0 = v128.load32_splat(taps);
  const t1 = v128.load32_splat(taps, 4);
  const t2 = v128.load32_splat(taps, 8);
  if (radius > 2) {
    const a3 = ringRow(ring, y - 3, width, radius);
    const b3 = ringRow(ring, y + 3, width, radius);
    const t3 = v128.load32_splat(taps, 12);
    for (let o: usize = 0; o < bytes; o += 64) {
      const c = centre + o;
      const a = a1 + o;
      const b = b1 + o;
      const d = a2 + o;
      const e = b2 + o;
      const f = a3 + o;
      const g = b3 + o;
      const to = out + o;
      sevenPixel(c, a, b, d, e, f, g, to, t0, t1, t2, t3);
      sevenPixel(c + 16, a + 16, b + 16, d + 16, e + 16, f + 16, g + 16, to + 16, t0, t1, t2, t3);
      sevenPixel(c + 32, a + 32, b + 32, d + 32, e + 32, f + 32, g + 32, to + 32, t0, t1, t2, t3);
      sevenPixel(c + 48, a + 48, b + 48, d + 48, e + 48, f + 48, g + 48, to + 48, t0, t1, t2, t3);
    }
  } else {
    for (let o: usize = 0; o < bytes; o += 64) {
      const c = centre + o;
      const a = a1 + o;
      const b = b1 + o;
      const d = a2 + o;
      const e = b2 + o;
      const to = out + o;
      fivePixel(c, a, b, d, e, to, t0, t1, t2);
      fivePixel(c + 16, a + 16, b + 16, d + 16, e + 16, to + 16, t0, t1, t2);
      fivePixel(c + 32, a + 32, b + 32, d + 32, e + 32, to + 32, t0, t1, t2);
      fivePixel(c + 48, a + 48, b + 48, d + 48, e + 48, to + 48, t0, t1, t2);
    }
  }
  for (let i = 4; i <= radius; i++) {
    const a = ringRow(ring, y - i, width, radius);
    const b = ringRow(ring, y + i, width, radius);
    addPair(a, b, out, bytes, v128.load32_splat(taps + ((<usize>i) << 2)));
  }
}

/**
 * Stops from mid-grey within 0.008, for curves of granularity: the float's bits read as a number, and a parabola over
 * the mantissa.
 */
// @ts-ignore: decorator
@inline function roughStops(x: v128): v128 {
  const straight = sub(mul(f32x4.convert_i32x4_s(x), splat(1.0 / 8388608)), splat(<f32>127.0 + LOG2_MID_GREY));
  const m = sub(v128.or(v128.and(x, i32x4.splat(0x7fffff)), i32x4.splat(0x3f800000)), splat(1));
  return add(straight, mul(mul(m, splat(0.3465)), sub(splat(1), m)));
}

/**
 * 2^x for the few stops of grain: the eighth power of a cubic, within 2e-5 for |x| < 1, positive and rising to |x| of
 * 12.
 */
// @ts-ignore: decorator
@inline function smallExp2(x: v128): v128 {
  const y = mul(f32x4.pmax(splat(-12), f32x4.pmin(splat(12), x)), splat(0.086643398));
  const e = add(add(splat(1), y), mul(mul(y, y), add(splat(0.5), mul(y, splat(0.16666667)))));
  const e2 = mul(e, e);
  const e4 = mul(e2, e2);
  return mul(e4, e4);
}

/** How much grain a pixel takes: `middle`, and towards a knot on either side of mid-grey `below` or `above` more. */
// @ts-ignore: decorator
@inline function amountPixel(
  light: usize,
  to: usize,
  down: v128,
  up: v128,
  middle: v128,
  below: v128,
  above: v128,
): void {
  const stops = roughStops(f32x4.pmax(v128.load(light), splat(1e-6)));
  // The way to the knot on whose side the stops lie; the other one's is negative.
  const t = f32x4.pmin(splat(1), f32x4.pmax(mul(stops, down), mul(stops, up)));
  const smooth = mul(mul(t, t), sub(splat(3), add(t, t)));
  v128.store(to, add(middle, mul(v128.bitselect(below, above, i32x4.shr_s(stops, 31)), smooth)));
}

/**
 * How much grain each pixel of a row takes, by stops from mid-grey: three knots (shadow, middle, highlight), smooth
 * between them.
 */
function amountRow(row: usize, width: i32, p: usize, to: usize): void {
  const layers = v128.load(p, GRAIN_LAYERS);
  const shadow = mul(layers, v128.load32_splat(p, GRAIN_SHADOW));
  const middle = mul(layers, v128.load32_splat(p, GRAIN_MIDDLE));
  const highlight = mul(layers, v128.load32_splat(p, GRAIN_HIGHLIGHT));
  const below = sub(shadow, middle);
  const above = sub(highlight, middle);
  const down = splat(1 / load<f32>(p, GRAIN_SHADOW_AT));
  const up = splat(1 / load<f32>(p, GRAIN_HIGHLIGHT_AT));
  const bytes = (<usize>width) << 4;
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const light = row + o;
    const amount = to + o;
    amountPixel(light, amount, down, up, middle, below, above);
    amountPixel(light + 16, amount + 16, down, up, middle, below, above);
    amountPixel(light + 32, amount + 32, down, up, middle, below, above);
    amountPixel(light + 48, amount + 48, down, up, middle, below, above);
  }
  for (; o < bytes; o += 16) amountPixel(row + o, to + o, down, up, middle, below, above);
}

/** Half of ln 2: the mean of 2^n of a normal n of deviation sigma is 2^(sigma^2 ln 2 / 2). */
const MEAN_GAIN: f32 = 0.34657359;

// @ts-ignore: decorator
@inline function grainPixel(row: usize, noise: usize, amount: usize, own: v128, shared: v128): void {
  const n4 = v128.load(noise);
  const sigma = v128.load(amount);
  const v = v128.load(row);
  const n = add(mul(n4, own), mul(v128.shuffle<f32>(n4, n4, 3, 3, 3, 3), shared));
  v128.store(row, withAlpha(mul(v, smallExp2(mul(sub(n, mul(sigma, splat(MEAN_GAIN))), sigma))), v));
}

/**
 * Multiplies row y by 2^noise, rows in order from y0. `state` keeps the ring of filtered noise; the seed has the
 * frame's number in it already. Three short sweeps over the row instead of a long one: a processor has several pixels
 * of a short one in hand at once.
 */
export function grainRow(row: usize, width: i32, y: i32, y0: i32, p: usize, state: usize): void {
  const radius = load<i32>(p, GRAIN_RADIUS);
  const taps = p + <usize>load<i32>(p, GRAIN_TAPS);
  const bytes = (<usize>width) << 4;
  const ring = state + bytesOf(width) + ((<usize>(2 * GRAIN_MAX_RADIUS)) << 4);
  const noise = ring + <usize>ringRows(radius) * bytesOf(width);
  const amounts = noise + bytesOf(width);
  fillRing(ring, state, width, y, y0, load<i32>(p, GRAIN_SEED), radius, taps);
  columnRow(ring, noise, width, y, radius, taps);
  amountRow(row, width, p, amounts);
  const shared = splat(load<f32>(p, GRAIN_COMMON));
  const own = splat(load<f32>(p, GRAIN_OWN));
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const at = row + o;
    const n = noise + o;
    const amount = amounts + o;
    grainPixel(at, n, amount, own, shared);
    grainPixel(at + 16, n + 16, amount + 16, own, shared);
    grainPixel(at + 32, n + 32, amount + 32, own, shared);
    grainPixel(at + 48, n + 48, amount + 48, own, shared);
  }
  for (; o < bytes; o += 16) grainPixel(row + o, noise + o, amounts + o, own, shared);
}
