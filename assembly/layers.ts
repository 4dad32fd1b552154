// Pixel-local operations on two or three frames, and those that tell colours apart.

import { add, mul, pow, splat, sub, withAlpha } from "./simd";

/** The weighted sum of a pixel's channels, in every lane. */
// @ts-ignore: decorator
@inline function weighed(pixel: v128, weights: v128): v128 {
  const w = mul(pixel, weights);
  return add(add(v128.shuffle<f32>(w, w, 0, 0, 0, 0), v128.shuffle<f32>(w, w, 1, 1, 1, 1)), v128.shuffle<f32>(w, w, 2, 2, 2, 2));
}

/** row R from the row, G from the second frame, B from the third, by a word a channel: 0 the row, 1 the second, 2 the third. */
export function lanesRow(row: usize, other: usize, third: usize, width: i32, p: usize): void {
  const r = load<i32>(p), g = load<i32>(p, 4), b = load<i32>(p, 8);
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const v = v128.load(row + o);
    const fr = r == 0 ? v : v128.load((r == 1 ? other : third) + o);
    const fg = g == 0 ? v : v128.load((g == 1 ? other : third) + o);
    const fb = b == 0 ? v : v128.load((b == 1 ? other : third) + o);
    v128.store(row + o, withAlpha(v128.shuffle<f32>(v128.shuffle<f32>(fr, fg, 0, 5, 2, 3), fb, 0, 1, 6, 3), v));
  }
}

/** row = other + (row - other) * matte, the matte in every lane of the third frame. */
export function blendRow(row: usize, other: usize, third: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const v = v128.load(row + o), w = v128.load(other + o);
    v128.store(row + o, withAlpha(add(w, mul(sub(v, w), v128.load(third + o))), w));
  }
}

/** row = row + other. */
export function sumRow(row: usize, other: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const v = v128.load(row + o);
    v128.store(row + o, withAlpha(add(v, v128.load(other + o)), v));
  }
}

/** row = row * other. */
export function productRow(row: usize, other: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const v = v128.load(row + o);
    v128.store(row + o, withAlpha(mul(v, v128.load(other + o)), v));
  }
}

/** row = row + clamp(row - other) * amount: unsharp masking. Words: amount, limit as a share of the light. */
export function unsharpRow(row: usize, other: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p), limit = v128.load32_splat(p, 4);
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const v = v128.load(row + o);
    const most = mul(f32x4.abs(v128.load(other + o)), limit);
    const edge = f32x4.pmax(f32x4.neg(most), f32x4.pmin(most, mul(sub(v, v128.load(other + o)), amount)));
    v128.store(row + o, withAlpha(add(v, edge), v));
  }
}

const PIVOT: f32 = 0.5; // light that stands half way on the scale of the modes that need an upper end

/**
 * Lays the row over the other frame. Words: mode (0 add, 1 lighten, 2 soft light, 3 overlay, 4 dodge), amount, picture level, gamma
 * of the layer.
 */
export function layerRow(row: usize, other: usize, width: i32, p: usize): void {
  const mode = load<i32>(p);
  const amount = v128.load32_splat(p, 4), level = v128.load32_splat(p, 8), gamma = v128.load32_splat(p, 12);
  const bend = load<f32>(p, 12) != 1;
  const zero = splat(0), one = splat(1), two = splat(2), pivot = splat(PIVOT), near = splat(0.999);
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const picture = v128.load(other + o);
    let layer = f32x4.pmax(zero, v128.load(row + o));
    if (bend) layer = pow(layer, gamma);
    layer = mul(layer, amount);
    const under = mul(picture, level);
    let out = add(under, layer);
    if (mode == 1) out = f32x4.pmax(under, layer);
    else if (mode > 1) {
      // On x / (x + pivot) light from nothing to no end lies between 0 and 1.
      const a = f32x4.div(f32x4.pmax(under, zero), add(f32x4.pmax(under, zero), pivot));
      const b = add(splat(0.5), mul(splat(0.5), f32x4.div(layer, add(layer, pivot))));
      let t: v128;
      if (mode == 2) t = add(a, mul(sub(mul(two, b), one), sub(f32x4.sqrt(a), a)));
      else if (mode == 3) t = v128.bitselect(mul(two, mul(a, b)), sub(one, mul(two, mul(sub(one, a), sub(one, b)))), f32x4.lt(a, splat(0.5)));
      else t = f32x4.div(a, f32x4.pmax(splat(0.05), sub(one, sub(mul(two, b), one))));
      t = f32x4.pmin(t, near);
      out = v128.bitselect(f32x4.div(mul(t, pivot), sub(one, t)), under, f32x4.gt(picture, zero));
    }
    v128.store(row + o, withAlpha(out, picture));
  }
}

/**
 * Colour by how bright and how strong it is. Vectors: luminance weights; gains of shadows, middles and highlights; word at 64:
 * vibrance; word at 68: whether luminance is kept.
 */
export function balanceRow(row: usize, width: i32, p: usize): void {
  const weights = v128.load(p), shadows = v128.load(p, 16), middles = v128.load(p, 32), highlights = v128.load(p, 48);
  const vibrance = v128.load32_splat(p, 64);
  const one = splat(1), zero = splat(0), grey = splat(0.18), tiny = splat(1e-6);
  for (let o: usize = 0; o < (<usize>width << 4); o += 16) {
    const v = v128.load(row + o);
    const light = f32x4.pmax(weighed(v, weights), tiny);
    // Shares that sum to one: below, about and above mid-grey.
    const ratio = f32x4.div(light, grey);
    const square = mul(ratio, ratio);
    const high = f32x4.div(square, add(square, splat(9)));
    const low = f32x4.div(one, add(one, mul(square, splat(9))));
    const middle = f32x4.pmax(zero, sub(sub(one, high), low));
    const gain = add(add(mul(shadows, low), mul(middles, middle)), mul(highlights, high));
    let out = mul(v, gain);
    out = mul(out, f32x4.div(light, f32x4.pmax(weighed(out, weights), tiny)));
    // Vibrance: weak colours gain more than strong ones.
    const base = weighed(out, weights);
    const away = sub(out, base);
    const reach = f32x4.abs(away);
    const strong = f32x4.pmin(one, f32x4.div(f32x4.pmax(f32x4.pmax(v128.shuffle<f32>(reach, reach, 0, 0, 0, 0), v128.shuffle<f32>(reach, reach, 1, 1, 1, 1)), v128.shuffle<f32>(reach, reach, 2, 2, 2, 2)), f32x4.pmax(base, tiny)));
    out = add(base, mul(away, add(one, mul(vibrance, sub(one, strong)))));
    v128.store(row + o, withAlpha(out, v));
  }
}
