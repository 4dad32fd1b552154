// Pixel-local operations on two or three frames, and those that tell colours apart.

import { hash } from "./grain";
import { add, bounded, mul, pow, splat, sub, withAlpha } from "./simd";
import {
  BALANCE_HIGHLIGHTS,
  BALANCE_LUMINANCE,
  BALANCE_MIDDLES,
  BALANCE_SHADOWS,
  BALANCE_VIBRANCE,
  FRAME_OTHER,
  FRAME_ROW,
  HUES_LUMINANCE,
  HUES_QUARTER,
  HUES_TABLE,
  LANES_BLUE,
  LANES_GREEN,
  LANES_RED,
  LAYER_AMOUNT,
  LAYER_NEUTRAL,
  LAYER_DITHER,
  LAYER_GAMMA,
  LAYER_HOLD,
  LAYER_LEVEL,
  LAYER_MODE,
  LAYER_SEED,
  LEAST_AMOUNT,
  MODE_DODGE,
  MODE_LIGHTEN,
  MODE_MULTIPLY,
  MODE_OVER,
  MODE_SCREEN,
  MODE_SOFT,
  UNSHARP_AMOUNT,
  UNSHARP_LIMIT,
  MID_GREY,
} from "./records";

/** The weighted sum of a pixel's channels, in every lane. */
// @ts-ignore: decorator
@inline function weighed(pixel: v128, weights: v128): v128 {
  const w = mul(pixel, weights);
  return add(
    add(v128.shuffle<f32>(w, w, 0, 0, 0, 0), v128.shuffle<f32>(w, w, 1, 1, 1, 1)),
    v128.shuffle<f32>(w, w, 2, 2, 2, 2),
  );
}

/**
 * Each channel from the row, or from one of the two further frames.
 */
export function lanesRow(row: usize, other: usize, third: usize, width: i32, p: usize): void {
  const r = load<i32>(p, LANES_RED);
  const g = load<i32>(p, LANES_GREEN);
  const b = load<i32>(p, LANES_BLUE);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    const fr = r == FRAME_ROW ? v : v128.load((r == FRAME_OTHER ? other : third) + o);
    const fg = g == FRAME_ROW ? v : v128.load((g == FRAME_OTHER ? other : third) + o);
    const fb = b == FRAME_ROW ? v : v128.load((b == FRAME_OTHER ? other : third) + o);
    v128.store(row + o, withAlpha(v128.shuffle<f32>(v128.shuffle<f32>(fr, fg, 0, 5, 2, 3), fb, 0, 1, 6, 3), v));
  }
}

/** row = other + (row - other) * matte, the matte in every lane of the third frame. */
export function blendRow(row: usize, other: usize, third: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    const w = v128.load(other + o);
    v128.store(row + o, withAlpha(add(w, mul(sub(v, w), v128.load(third + o))), w));
  }
}

/** row = row + other. */
export function sumRow(row: usize, other: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    v128.store(row + o, withAlpha(bounded(add(v, v128.load(other + o))), v));
  }
}

/** row = row * other. */
export function productRow(row: usize, other: usize, width: i32): void {
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    v128.store(row + o, withAlpha(bounded(mul(v, v128.load(other + o))), v));
  }
}

/** row = the third frame, held to the row where that is less, by an amount. */
export function leastRow(row: usize, third: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p, LEAST_AMOUNT);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(third + o);
    v128.store(row + o, withAlpha(add(v, mul(f32x4.pmin(splat(0), sub(v128.load(row + o), v)), amount)), v));
  }
}

/** row = row + clamp(row - other) * amount: unsharp masking, held to a limit, as a share of the light. */
export function unsharpRow(row: usize, other: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p, UNSHARP_AMOUNT);
  const limit = v128.load32_splat(p, UNSHARP_LIMIT);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const v = v128.load(row + o);
    const most = mul(f32x4.abs(v128.load(other + o)), limit);
    const edge = f32x4.pmax(f32x4.neg(most), f32x4.pmin(most, mul(sub(v, v128.load(other + o)), amount)));
    v128.store(row + o, withAlpha(add(v, edge), v));
  }
}

/** Two halves of a hash make triangular noise, -1 to 1, a lane. */
// @ts-ignore: decorator
@inline function triangular(seed: v128): v128 {
  const h = hash(seed);
  const low = f32x4.convert_i32x4_s(v128.and(h, i32x4.splat(0xffff)));
  const high = f32x4.convert_i32x4_s(i32x4.shr_u(h, 16));
  return mul(sub(low, high), splat(<f32>(1.0 / 65535.0)));
}

/** A layer of 1 divides by this little more than nothing, so that dodging has no jump there. */
const MIN_DIVISOR: f32 = 1e-3;

/** Soft light of a and b, 0 to 1 (W3C Compositing and Blending 1, 10.2: softLight). */
// @ts-ignore: decorator
@inline function softLight(a: v128, b: v128): v128 {
  const one = splat(1);
  const twice = add(b, b);
  const dark = sub(a, mul(sub(one, twice), mul(a, sub(one, a))));
  const near = mul(add(mul(sub(mul(splat(16), a), splat(12)), a), splat(4)), a);
  const root = v128.bitselect(near, f32x4.sqrt(a), f32x4.le(a, splat(0.25)));
  const light = add(a, mul(sub(twice, one), sub(root, a)));
  return v128.bitselect(dark, light, f32x4.le(b, splat(0.5)));
}

/** Overlay of a and b, 0 to 1 (10.2: overlay): multiplied below the middle of the picture, screened above it. */
// @ts-ignore: decorator
@inline function overlay(a: v128, b: v128): v128 {
  const one = splat(1);
  const product = mul(a, b);
  const screened = sub(one, mul(splat(2), mul(sub(one, a), sub(one, b))));
  return v128.bitselect(add(product, product), screened, f32x4.le(a, splat(0.5)));
}

/** Colour dodge of a and b, 0 to 1 (10.2: color-dodge), steep instead of broken where b reaches 1. */
// @ts-ignore: decorator
@inline function dodge(a: v128, b: v128): v128 {
  return f32x4.pmin(splat(1), f32x4.div(a, f32x4.pmax(splat(MIN_DIVISOR), sub(splat(1), b))));
}

/**
 * Lays the row (b) over the other frame (a). In [0, 1] each mode is the published formula (W3C Compositing and Blending
 * 1, 9 and 10), on scene-linear light. Above 1 each goes on without a jump and never falls as a or b grows:
 *   add a + b; lighten max(a, b); multiply a b; over (its own alpha) a (1 - alpha) + b;
 *   screen a + b - min(a, 1) min(b, 1);
 *   soft light, overlay and dodge take of a and b what lies between 0 and 1, and what a has beyond it is added: a above
 * 1 stays as it is. What a layer is filled with stands in `records`; `base` is the neutral layer of a mode.
 */
export function layerRow(row: usize, other: usize, width: i32, y: i32, p: usize): void {
  const mode = load<i32>(p, LAYER_MODE);
  const amount = v128.load32_splat(p, LAYER_AMOUNT);
  const level = v128.load32_splat(p, LAYER_LEVEL);
  const gamma = v128.load32_splat(p, LAYER_GAMMA);
  const hold = load<f32>(p, LAYER_HOLD);
  const dither = load<f32>(p, LAYER_DITHER);
  const seed = i32x4.add(i32x4.splat(load<i32>(p, LAYER_SEED) ^ (y * 0x27d4eb2f)), i32x4(0, 0x3c6ef372, 0x78dde6e5, 0));
  const holdLight = splat(hold);
  const noise = splat(dither);
  const base = v128.load32_splat(p, LAYER_NEUTRAL);
  const bend = load<f32>(p, LAYER_GAMMA) != 1;
  const zero = splat(0);
  const one = splat(1);
  for (let x = 0; x < width; x++) {
    const o = (<usize>x) << 4;
    const picture = v128.load(other + o);
    const own = v128.load(row + o);
    let layer = mode == MODE_OVER ? own : f32x4.pmax(zero, own);
    if (bend) layer = bounded(pow(layer, gamma));
    layer = bounded(mul(layer, amount));
    const under = mul(picture, level);
    if (hold > 0) {
      const ratio = f32x4.pmax(f32x4.div(under, holdLight), zero);
      layer = f32x4.div(layer, add(one, mul(ratio, ratio)));
    }
    if (dither > 0) layer = mul(layer, add(one, mul(noise, triangular(v128.xor(seed, i32x4.splat(x * 0x165667b1))))));
    let out = add(under, layer);
    if (mode == MODE_LIGHTEN) out = add(under, f32x4.pmax(zero, sub(layer, f32x4.pmax(under, zero))));
    else if (mode == MODE_MULTIPLY) out = mul(under, add(base, layer));
    else if (mode == MODE_OVER)
      out = add(
        mul(under, f32x4.pmax(zero, sub(one, mul(v128.shuffle<f32>(own, own, 3, 3, 3, 3), f32x4.pmin(amount, one))))),
        layer,
      );
    else if (mode > 1) {
      const a = f32x4.pmin(one, f32x4.pmax(zero, under));
      if (mode == MODE_SCREEN) out = sub(out, mul(a, f32x4.pmin(one, layer)));
      else if (mode == MODE_DODGE) out = add(under, sub(dodge(a, f32x4.pmin(one, layer)), a));
      else {
        const b = f32x4.pmin(one, add(base, layer));
        out = add(under, sub(mode == MODE_SOFT ? softLight(a, b) : overlay(a, b), a));
      }
    }
    v128.store(row + o, withAlpha(bounded(out), picture));
  }
}

/**
 * Saturation and hue by hue, luminance kept. The table: by pseudo-angle, pairs of scale times cosine and sine of the
 * turn, one entry more than the whole turn has. Hue lies in the plane of a = R - (G + B) / 2 and b = (G - B) sqrt(3) /
 * 2.
 */
export function huesRow(row: usize, width: i32, p: usize): void {
  const weights = v128.load(p, HUES_LUMINANCE);
  const quarter = load<f32>(p, HUES_QUARTER);
  const table = p + <usize>load<i32>(p, HUES_TABLE);
  for (let x = 0; x < width; x++) {
    const at = row + ((<usize>x) << 4);
    const v = v128.load(at);
    const r = f32x4.extract_lane(v, 0);
    const g = f32x4.extract_lane(v, 1);
    const c = f32x4.extract_lane(v, 2);
    const a = r - (g + c) * 0.5;
    const b = (g - c) * ROOT3_2;
    const sum = abs(a) + abs(b);
    if (sum < 1e-12) continue;
    // The diamond angle, 0 to 4: as good as the true one for a table, and without a trigonometric function.
    const t = b / sum;
    const turn = a >= 0 ? (b >= 0 ? t : 4 + t) : 2 - t;
    const place = turn * quarter;
    const cell = <i32>place;
    const entry = table + ((<usize>cell) << 3);
    const f = place - <f32>cell;
    const cos = load<f32>(entry) + (load<f32>(entry, 8) - load<f32>(entry)) * f;
    const sin = load<f32>(entry, 4) + (load<f32>(entry, 12) - load<f32>(entry, 4)) * f;
    const da = a * cos - b * sin - a;
    const db = a * sin + b * cos - b;
    // R, G, B of a step in the plane, at equal R + G + B; then luminance is given back.
    const out = add(v, f32x4(da * TWO_THIRDS, db * ONE_ROOT3 - da * ONE_THIRD, -db * ONE_ROOT3 - da * ONE_THIRD, 0));
    v128.store(at, withAlpha(add(out, sub(weighed(v, weights), weighed(out, weights))), v));
  }
}
const ROOT3_2: f32 = 0.8660254;
const ONE_ROOT3: f32 = 0.57735027;
const TWO_THIRDS: f32 = 2.0 / 3.0;
const ONE_THIRD: f32 = 1.0 / 3.0;

/**
 * Colour by how bright and how strong it is, luminance kept.
 */
export function balanceRow(row: usize, width: i32, p: usize): void {
  const weights = v128.load(p, BALANCE_LUMINANCE);
  const shadows = v128.load(p, BALANCE_SHADOWS);
  const middles = v128.load(p, BALANCE_MIDDLES);
  const highlights = v128.load(p, BALANCE_HIGHLIGHTS);
  const vibrance = v128.load32_splat(p, BALANCE_VIBRANCE);
  const one = splat(1);
  const zero = splat(0);
  const grey = splat(MID_GREY);
  const tiny = splat(1e-6);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
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
    const strong = f32x4.pmin(
      one,
      f32x4.div(
        f32x4.pmax(
          f32x4.pmax(v128.shuffle<f32>(reach, reach, 0, 0, 0, 0), v128.shuffle<f32>(reach, reach, 1, 1, 1, 1)),
          v128.shuffle<f32>(reach, reach, 2, 2, 2, 2),
        ),
        f32x4.pmax(base, tiny),
      ),
    );
    out = add(base, mul(away, add(one, mul(vibrance, sub(one, strong)))));
    v128.store(row + o, withAlpha(bounded(out), v));
  }
}
