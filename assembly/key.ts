// The highlight key: which light an element takes. Shared by every highlight-driven kernel.

import { add, lane0, lane1, lane2, mul, splat } from "./simd";
import {
  JUDGED_EACH,
  JUDGED_MAXIMUM,
  JUDGED_SUM,
  KEY_HIGH,
  KEY_JUDGED,
  KEY_LIMIT,
  KEY_LOW,
  KEY_MIDDLE,
  KEY_WEIGHTS,
} from "./records";

/**
 * Fraction of a pixel's light that the key takes, in every lane or of each channel. C1 in the light: 0 below the knee,
 * quadratic in it.
 */
// @ts-ignore: decorator
@inline export function keyFraction(pixel: v128, key: usize): v128 {
  const weighted = mul(pixel, v128.load(key, KEY_WEIGHTS));
  const r = lane0(weighted);
  const g = lane1(weighted);
  const b = lane2(weighted);
  const judged = load<i32>(key, KEY_JUDGED);
  const level =
    judged == JUDGED_EACH ? weighted : judged == JUDGED_MAXIMUM ? f32x4.pmax(f32x4.pmax(r, g), b) : add(add(r, g), b);
  const low = v128.load32_splat(key, KEY_LOW);
  const high = v128.load32_splat(key, KEY_HIGH);
  const middle = v128.load32_splat(key, KEY_MIDDLE);
  const limit = v128.load32_splat(key, KEY_LIMIT);
  const held = f32x4.pmin(level, limit);
  const over = f32x4.pmax(f32x4.sub(held, low), splat(0));
  const knee = f32x4.div(mul(over, over), f32x4.pmax(mul(splat(2), f32x4.sub(high, low)), splat(1e-20)));
  const excess = v128.bitselect(f32x4.sub(held, middle), knee, f32x4.ge(held, high));
  return f32x4.div(excess, f32x4.pmax(level, splat(1e-20)));
}

/**
 * Replaces a row of pixels by the light the key takes from it. Most of a picture is below the key, and costs a
 * comparison.
 */
export function keyRow(row: usize, width: i32, key: usize): void {
  const weights = v128.load(key, KEY_WEIGHTS);
  const low = v128.load32_splat(key, KEY_LOW);
  const summed = load<i32>(key, KEY_JUDGED) == JUDGED_SUM;
  for (let x = 0; x < width; x++) {
    const at = row + ((<usize>x) << 4);
    const pixel = v128.load(at);
    const parts = mul(pixel, weights);
    let below: bool;
    if (summed)
      below =
        f32x4.extract_lane(parts, 0) + f32x4.extract_lane(parts, 1) + f32x4.extract_lane(parts, 2) <=
        f32x4.extract_lane(low, 0);
    else below = !v128.any_true(f32x4.gt(parts, low));
    v128.store(at, below ? splat(0) : mul(pixel, keyFraction(pixel, key)));
  }
}

/**
 * Whether the key takes any light of a row; four pixels at a time, so that dark rows cost little more than reading
 * them.
 */
export function keyTakes(row: usize, width: i32, key: usize): bool {
  const weights = v128.load(key, KEY_WEIGHTS);
  const low = v128.load32_splat(key, KEY_LOW);
  // Each part of a weighted sum is at most the sum: a row with no part above a third of the threshold has no sum above
  // it.
  const least = load<i32>(key, KEY_JUDGED) == JUDGED_SUM ? mul(low, splat(<f32>1.0 / <f32>3.0)) : low;
  const end = row + ((<usize>width) << 4);
  let at = row;
  for (; at + 64 <= end; at += 64) {
    const most = f32x4.pmax(
      f32x4.pmax(v128.load(at), v128.load(at, 16)),
      f32x4.pmax(v128.load(at, 32), v128.load(at, 48)),
    );
    if (v128.any_true(f32x4.gt(mul(most, weights), least))) return true;
  }
  for (; at < end; at += 16) if (v128.any_true(f32x4.gt(mul(v128.load(at), weights), least))) return true;
  return false;
}
