import { clamp } from "../../maths/interpolate";
import { GRAIN_MAX_RADIUS } from "../../engine/records";
import { type Grain, HIGHLIGHT_AT, SHADOW_AT } from "./parameters";

/** The aperture granularity is stated through (ISO 10505): 48 µm across, mm. RMS figures are density times 1000. */
const APERTURE = 0.048;

const RMS_UNIT = 1e-3;

/** Full width at half maximum over standard deviation of a Gaussian. */
const FWHM = 2.3548;

/** A density of 1 is this many stops. */
const STOPS_PER_DENSITY = Math.log2(10);

/** Gaussian taps (centre first, unit power: the sum of squares over the whole kernel is 1). */
export function taps(sigma: number): number[] {
  const radius = clamp(Math.ceil(3 * sigma), 0, GRAIN_MAX_RADIUS);
  const raw = Array.from({ length: radius + 1 }, (_, i) => Math.exp(-0.5 * (i / Math.max(sigma, 1e-3)) ** 2));
  const power = Math.sqrt(raw.reduce((sum, tap, i) => sum + (i ? 2 : 1) * tap * tap, 0));
  return raw.map((tap) => tap / power);
}

/**
 * RMS through a square aperture of the 48 µm circle's area, of noise of unit variance a pixel filtered by `half`
 * (pixels of `pitch` mm): from the noise's autocorrelation and the aperture's.
 */
export function apertureRms(half: number[], pitch: number): number {
  const full = [...half.slice(1).reverse(), ...half];
  const side = (APERTURE * Math.sqrt(Math.PI)) / 2 / pitch; // px
  let variance = 0;
  for (let lag = -full.length; lag <= full.length; lag++) {
    let correlation = 0;
    for (let i = 0; i < full.length; i++) correlation += full[i]! * (full[i + lag] ?? 0);
    // Overlap of the aperture with itself moved by `lag`, each seen through pixels of unit width (a triangle).
    let overlap = 0;
    const steps = 64;
    for (let k = 0; k < steps; k++) {
      const t = lag + ((k + 0.5) / steps) * 2 - 1;
      overlap += (Math.max(0, side - Math.abs(t)) / side ** 2) * (1 - Math.abs(t - lag)) * (2 / steps);
    }
    variance += correlation * overlap;
  }
  return Math.max(variance, 1e-12); // separable: the variance is the square of the one-dimensional one, the RMS its root
}

/** Gaussian of the grain widened by the pixel's own box, and by its softness, px. */
export function filterTaps({ size, softness }: Grain, pitch: number): number[] {
  return taps(((1 + softness) * Math.hypot(size / 1000 / FWHM, pitch / Math.sqrt(12))) / pitch);
}

/** Sigma in stops of a pixel, for an RMS figure. */
export function pixelSigma(rms: number, values: Grain, pitch: number): number {
  const half = filterTaps(values, pitch);
  return (rms * RMS_UNIT * STOPS_PER_DENSITY) / apertureRms(half, pitch);
}

/** The RMS figure at a light, stops from mid-grey: three figures, smooth between. As assembly/grain.ts has it. */
export function rmsAt(
  { shadow, middle, highlight }: Pick<Grain, "shadow" | "middle" | "highlight">,
  stops: number,
): number {
  const smooth = (t: number) => t * t * (3 - 2 * t);
  const down = smooth(clamp(stops / SHADOW_AT, 0, 1));
  const up = smooth(clamp(stops / HIGHLIGHT_AT, 0, 1));
  return middle + (shadow - middle) * down + (highlight - middle) * up;
}
