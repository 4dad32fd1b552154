import { clamp } from "../maths/interpolate";
import { apply, invert, type Triple } from "../maths/matrix";
import { AP1, LUMINANCE, toXyz } from "./primaries";

/** The daylight that is white in working light, as reciprocal temperature: 6000 K. */
const WHITE_MIRED = 1e6 / 6000;
/** CIE daylight is defined from 4000 to 25000 K. */
const [WARMEST_MIRED, COOLEST_MIRED] = [1e6 / 4000, 1e6 / 25000];
/** Tint is written in thousandths of the CIE 1960 chart. */
const THOUSANDTH = 0.001;

/** Chromaticity xy of CIE daylight at a correlated colour temperature of 4000 to 25000 K (CIE 15:2018, 4.1.2). */
export function daylight(kelvin: number): [number, number] {
  const t = 1000 / kelvin;
  const x =
    kelvin <= 7000
      ? 0.244063 + 0.09911 * t + 2.9678 * t ** 2 - 4.607 * t ** 3
      : 0.23704 + 0.24748 * t + 1.9018 * t ** 2 - 2.0064 * t ** 3;
  return [x, -3 * x * x + 2.87 * x - 0.275];
}

function lightOf([x, y]: [number, number], tint: number): Triple {
  const over = -2 * x + 12 * y + 3;
  const [u, v] = [(4 * x) / over, (6 * y) / over - tint * THOUSANDTH];
  const [tx, ty] = [(3 * u) / (2 * u - 8 * v + 4), (2 * v) / (2 * u - 8 * v + 4)];
  return apply(invert(toXyz(AP1)), [tx / ty, 1, (1 - tx - ty) / ty]);
}

/** How far white may be moved: mired, and thousandths of the chart. */
export const WHITE_LIMITS = { mired: [-100, 80], tint: [-30, 30] } as const;

/** Steps of Newton's method that find a white; it is quadratic, and starts near. */
const STEPS = 12;
const NUDGE = 0.5;

/** The temperature (mired) and tint whose gains make light of a colour neutral, as near as the limits allow. */
export function whiteFor(light: Triple): { mired: number; tint: number } {
  const off = (mired: number, tint: number): [number, number] => {
    const [r, g, b] = whiteGains(mired, tint).map((gain, i) => Math.log(Math.max(gain * light[i]!, 1e-9))) as [
      number,
      number,
      number,
    ];
    return [r - g, b - g];
  };
  let [mired, tint] = [0, 0];
  for (let step = 0; step < STEPS; step++) {
    const [f, g] = off(mired, tint);
    const [fm, gm] = off(mired + NUDGE, tint).map((value, i) => (value - [f, g][i]!) / NUDGE) as [number, number];
    const [ft, gt] = off(mired, tint + NUDGE).map((value, i) => (value - [f, g][i]!) / NUDGE) as [number, number];
    const determinant = fm * gt - ft * gm;
    if (Math.abs(determinant) < 1e-12) break;
    mired = clamp(mired - (f * gt - ft * g) / determinant, ...WHITE_LIMITS.mired);
    tint = clamp(tint - (fm * g - f * gm) / determinant, ...WHITE_LIMITS.tint);
  }
  return { mired, tint };
}

/**
 * Gains of working light that turn white into daylight warmer by so many mired (MK⁻¹) and more magenta by so many
 * thousandths of the CIE 1960 chart; white keeps its luminance. The temperature holds at the ends of the daylight
 * locus.
 */
export function whiteGains(mired: number, tint: number): Triple {
  if (mired === 0 && tint === 0) return [1, 1, 1];
  const wanted = lightOf(daylight(1e6 / Math.max(COOLEST_MIRED, Math.min(WARMEST_MIRED, WHITE_MIRED + mired))), tint);
  const white = lightOf(daylight(1e6 / WHITE_MIRED), 0);
  const gains = wanted.map((value, i) => Math.max(0, value / white[i]!));
  const luminance = gains.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0);
  return gains.map((value) => value / luminance) as unknown as Triple;
}
