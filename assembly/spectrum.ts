// Fringes wide enough to be seen as such: a channel fetched at several places along the spectrum instead of at one.

import { fetchFour, fetchOuter } from "./cubic";
import { add, lane0, lane1, lane2, mul, splat, sub, withAlpha } from "./simd";

/** Fringes (red to blue, px) narrower than the first are the three channels alone; from the second on the whole spectrum is sampled. */
export const FRINGE_BEGINS: f32 = 2;
const FRINGE_FULL: f32 = 4;

/** How much of its width the spectrum is spread to, of the distance between red and blue, px: four lanes. */
// @ts-ignore: decorator
@inline function spreadOf(dx: v128, dy: v128): v128 {
  const fringe = f32x4.sqrt(add(mul(dx, dx), mul(dy, dy)));
  return f32x4.pmin(splat(1), f32x4.pmax(splat(0), mul(sub(fringe, splat(FRINGE_BEGINS)), splat(1 / (FRINGE_FULL - FRINGE_BEGINS)))));
}

// A channel's places lie on the parabola through red's, green's and blue's, which stand at +1, 0 and -1 of the spectrum: one coordinate of it.
// @ts-ignore: decorator
@inline function curveOf(r: v128, g: v128, b: v128): v128 { return sub(mul(add(r, b), splat(0.5)), g); }
// @ts-ignore: decorator
@inline function slopeOf(r: v128, b: v128): v128 { return mul(sub(r, b), splat(0.5)); }
// @ts-ignore: decorator
@inline function onParabola(g: v128, curve: v128, slope: v128, u: v128, bend: v128): v128 { return add(g, add(mul(curve, bend), mul(slope, u))); }

/**
 * One pixel near the edge with each channel's part of the spectrum spread along the parabola through the three channels' places. `spectrum`:
 * count of taps, their variance, then offset and weight of each; the channels' centroids stay as far apart as their places.
 */
export function fetchSpectrum(src: usize, width: i32, height: i32, px: v128, py: v128, sx: f32, sy: f32, black: i32, spectrum: usize): v128 {
  const rx = lane0(px), gx = lane1(px), bx = lane2(px), ry = lane0(py), gy = lane1(py), by = lane2(py);
  const share = spreadOf(sub(rx, bx), sub(ry, by));
  const curveX = curveOf(rx, gx, bx), curveY = curveOf(ry, gy, by), slopeX = slopeOf(rx, bx), slopeY = slopeOf(ry, by);
  const variance = mul(splat(load<f32>(spectrum, 4)), mul(share, share));
  const taps = <i32>load<f32>(spectrum);
  let sum = splat(0), light = splat(0);
  for (let k = 0; k < taps; k++) {
    const tap = spectrum + 8 + (<usize>k << 3);
    const u = add(f32x4(1, 0, -1, 0), mul(splat(load<f32>(tap)), share));
    const bend = sub(mul(u, u), variance);
    const x = onParabola(gx, curveX, slopeX, u, bend), y = onParabola(gy, curveY, slopeY, u, bend);
    light = fetchOuter(src, width, height, x, y, sx, sy, black);
    sum = add(sum, mul(light, splat(load<f32>(tap, 4))));
  }
  return withAlpha(sum, light);
}

/** The same of four pixels of one channel inside its plane: `middle` is its place on the spectrum; red's, green's and blue's places follow. */
export function fetchSpectrumFour(origin: usize, pitch: usize, middle: f32, rx: v128, gx: v128, bx: v128, ry: v128, gy: v128, by: v128, spectrum: usize, scratch: usize): v128 {
  const share = spreadOf(sub(rx, bx), sub(ry, by));
  const curveX = curveOf(rx, gx, bx), curveY = curveOf(ry, gy, by), slopeX = slopeOf(rx, bx), slopeY = slopeOf(ry, by);
  const variance = mul(splat(load<f32>(spectrum, 4)), mul(share, share));
  const taps = <i32>load<f32>(spectrum);
  let sum = splat(0);
  for (let k = 0; k < taps; k++) {
    const tap = spectrum + 8 + (<usize>k << 3);
    const u = add(splat(middle), mul(splat(load<f32>(tap)), share));
    const bend = sub(mul(u, u), variance);
    const x = onParabola(gx, curveX, slopeX, u, bend), y = onParabola(gy, curveY, slopeY, u, bend);
    sum = add(sum, mul(fetchFour(origin, pitch, x, y, scratch), splat(load<f32>(tap, 4))));
  }
  return sum;
}

/** Square of the distance between red's place and blue's, px. */
// @ts-ignore: decorator
@inline export function fringeSquared(x: v128, y: v128): f32 {
  const dx = f32x4.extract_lane(x, 0) - f32x4.extract_lane(x, 2), dy = f32x4.extract_lane(y, 0) - f32x4.extract_lane(y, 2);
  return dx * dx + dy * dy;
}
