// Film grain as fresh, filtered, counter-based noise: each value is a hash of (seed, frame, x, y, layer), so any row can be
// made on its own and a frame always gets the same pattern.

import { add, mul, splat } from "./simd";

const PAD: i32 = 8;

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

/** White noise at x of a row, near normal: the sum of a hash's four bytes, mean 0, not yet scaled; lanes R, G, B, common. */
// @ts-ignore: decorator
@inline function white(row: v128, layers: v128, x: i32): v128 {
  const h = hash(i32x4.add(v128.xor(row, i32x4.splat(x * 0x165667b1)), layers));
  const bytes = i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(h));
  return f32x4.convert_i32x4_s(i32x4.sub(bytes, i32x4.splat(MEAN)));
}

/** Fills a row of the ring: white noise filtered along the row. Up to two taps a side run on a window held in registers. */
function fillRow(to: usize, scratch: usize, width: i32, y: i32, seed: i32, radius: i32, taps: usize): void {
  const row = i32x4.splat((y * 0x27d4eb2f) ^ seed);
  const layers = i32x4(0, 0x3c6ef372, 0x78dde6e5, <i32>0xb54cda57);
  if (radius > 2) {
    for (let x = -PAD; x < width + PAD; x++) v128.store(scratch + (<usize>(x + PAD) << 4), white(row, layers, x));
    filter(scratch + (PAD << 4), to, width, radius, taps);
    return;
  }
  const unit = splat(DEVIATION);
  const t0 = mul(v128.load32_splat(taps), unit), t1 = mul(v128.load32_splat(taps, 4), unit), t2 = mul(v128.load32_splat(taps, 8), unit);
  let a = white(row, layers, -2), b = white(row, layers, -1), c = white(row, layers, 0), d = white(row, layers, 1);
  for (let x = 0; x < width; x++) {
    const e = white(row, layers, x + 2);
    const sum = add(add(mul(c, t0), mul(add(b, d), t1)), mul(add(a, e), t2));
    v128.store(to + (<usize>x << 4), sum);
    a = b;
    b = c;
    c = d;
    d = e;
  }
}

/** Filters a row of noise along itself; `at` has PAD pixels on each side. */
function filter(at: usize, to: usize, width: i32, radius: i32, taps: usize): void {
  const unit = splat(DEVIATION);
  const t0 = mul(v128.load32_splat(taps), unit), t1 = mul(v128.load32_splat(taps, 4), unit), t2 = mul(v128.load32_splat(taps, 8), unit);
  const end = at + (<usize>width << 4);
  for (; at < end; at += 16, to += 16) {
    let sum = mul(v128.load(at), t0);
    if (radius > 0) sum = add(sum, mul(add(v128.load(at - 16), v128.load(at, 16)), t1));
    if (radius > 1) sum = add(sum, mul(add(v128.load(at - 32), v128.load(at, 32)), t2));
    for (let i = 3; i <= radius; i++) {
      const o = <usize>i << 4;
      sum = add(sum, mul(add(v128.load(at - o), v128.load(at + o)), mul(unit, v128.load32_splat(taps + (<usize>i << 2)))));
    }
    v128.store(to, sum);
  }
}

/**
 * The filtered noise of row y: a pointer to `width` vectors of unit variance in R, G, B. Words at p: seed (already mixed with
 * the frame number), radius, layer correlation; rows are filled in order from y0. A vector at p + 16: amount by layer. Taps at p + 64: centre and up to 8 outward.
 */
export function grainRow(width: i32, y: i32, y0: i32, p: usize, state: usize): usize {
  const seed = load<i32>(p), radius = load<i32>(p, 4);
  const shared = splat(load<f32>(p, 8)), own = splat(load<f32>(p, 12));
  const taps = p + 64;
  const stride = <usize>width << 4;
  const scratch = state;
  const ring = state + (<usize>(width + 2 * PAD) << 4);
  const out = ring + 32 * stride;
  const begin = y == y0 ? y - radius : y + radius;
  for (let r = begin; r <= y + radius; r++) {
    fillRow(ring + <usize>((r + 64) & 31) * stride, scratch, width, r, seed, radius, taps);
  }
  const centre = ring + <usize>((y + 64) & 31) * stride;
  const t0 = v128.load32_splat(taps), t1 = v128.load32_splat(taps, 4), t2 = v128.load32_splat(taps, 8);
  const a1 = ring + <usize>((y + 63) & 31) * stride, b1 = ring + <usize>((y + 65) & 31) * stride;
  const a2 = ring + <usize>((y + 62) & 31) * stride, b2 = ring + <usize>((y + 66) & 31) * stride;
  for (let o: usize = 0; o < stride; o += 16) {
    let sum = mul(v128.load(centre + o), t0);
    if (radius > 0) sum = add(sum, mul(add(v128.load(a1 + o), v128.load(b1 + o)), t1));
    if (radius > 1) sum = add(sum, mul(add(v128.load(a2 + o), v128.load(b2 + o)), t2));
    for (let i = 3; i <= radius; i++) {
      const a = v128.load(ring + <usize>((y + 64 - i) & 31) * stride + o);
      const b = v128.load(ring + <usize>((y + 64 + i) & 31) * stride + o);
      sum = add(sum, mul(add(a, b), v128.load32_splat(taps + (<usize>i << 2))));
    }
    const common = v128.shuffle<f32>(sum, sum, 3, 3, 3, 3);
    v128.store(out + o, add(mul(sum, own), mul(common, shared)));
  }
  return out;
}
