// Fringes wide enough to be seen as such: a channel fetched at several places along the spectrum instead of at one.

import { fetchOuter } from "./cubic";
import { add, lane0, lane1, lane2, mul, splat, sub, withAlpha } from "./simd";

/**
 * Fringes (red to blue, px) narrower than the first are the three channels alone; from the second on the whole spectrum
 * is sampled.
 */
export const FRINGE_BEGINS: f32 = 2;
const FRINGE_FULL: f32 = 4;

/** How much of its width the spectrum is spread to, of the distance between red and blue, px: four lanes. */
// @ts-ignore: decorator
@inline function spreadOf(dx: v128, dy: v128): v128 {
  const fringe = f32x4.sqrt(add(mul(dx, dx), mul(dy, dy)));
  return f32x4.pmin(
    splat(1),
    f32x4.pmax(splat(0), mul(sub(fringe, splat(FRINGE_BEGINS)), splat(1 / (FRINGE_FULL - FRINGE_BEGINS)))),
  );
}

// The `spectrum` as src/core/spread/spectrum.ts writes it: how many taps, their variance, then offset and weight of
// each. @ts-ignore: decorator
@inline export function tapsOf(spectrum: usize): i32 {
  return <i32>load<f32>(spectrum);
}
// @ts-ignore: decorator
@inline export function tapAt(spectrum: usize, k: i32): usize {
  return spectrum + 8 + ((<usize>k) << 3);
}
// @ts-ignore: decorator
@inline export function weightOf(tap: usize): v128 {
  return v128.load32_splat(tap, 4);
}

/**
 * One coordinate on the parabola through red's, green's and blue's, which stand at +1, 0 and -1 of the spectrum;
 * `bend`: what stands for the square of u.
 */
// @ts-ignore: decorator
@inline function onParabola(p: v128, u: v128, bend: v128): v128 {
  const r = lane0(p);
  const g = lane1(p);
  const b = lane2(p);
  const curve = sub(mul(add(r, b), splat(0.5)), g);
  const slope = mul(sub(r, b), splat(0.5));
  return add(g, add(mul(curve, bend), mul(slope, u)));
}

/**
 * Where each channel's light comes from for one tap of the spectrum, of the channels' own places; x, then y. The
 * channels' centroids stay as far apart as their places.
 */
// @ts-ignore: decorator
@inline export function spectralPlace(px: v128, py: v128, spectrum: usize, tap: usize, to: usize): void {
  const share = spreadOf(sub(lane0(px), lane2(px)), sub(lane0(py), lane2(py)));
  const u = add(f32x4(1, 0, -1, 0), mul(v128.load32_splat(tap), share));
  const bend = sub(mul(u, u), mul(v128.load32_splat(spectrum, 4), mul(share, share)));
  v128.store(to, onParabola(px, u, bend));
  v128.store(to, onParabola(py, u, bend), 16);
}

/** One pixel near the edge with each channel's part of the spectrum spread along it. `scratch`: 32 bytes. */
export function fetchSpectrum(
  planes: usize,
  width: i32,
  height: i32,
  px: v128,
  py: v128,
  sx: f32,
  sy: f32,
  black: i32,
  spectrum: usize,
  scratch: usize,
): v128 {
  const taps = tapsOf(spectrum);
  let sum = splat(0);
  let light = splat(0);
  for (let k = 0; k < taps; k++) {
    const tap = tapAt(spectrum, k);
    spectralPlace(px, py, spectrum, tap, scratch);
    light = fetchOuter(planes, width, height, v128.load(scratch), v128.load(scratch, 16), sx, sy, black);
    sum = add(sum, mul(light, weightOf(tap)));
  }
  return withAlpha(sum, fetchOuter(planes, width, height, lane1(px), lane1(py), sx, sy, black));
}

/** Square of the distance between red's place and blue's, px. */
// @ts-ignore: decorator
@inline export function fringeSquared(x: v128, y: v128): f32 {
  const dx = f32x4.extract_lane(x, 0) - f32x4.extract_lane(x, 2);
  const dy = f32x4.extract_lane(y, 0) - f32x4.extract_lane(y, 2);
  return dx * dx + dy * dy;
}
