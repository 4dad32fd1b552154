/** How a lens draws a straight edge, by its contrast alone: closed forms, summed numerically. */

const sinc = (t: number) => (t === 0 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t));

/** Frequencies are summed to this many cycles a pixel: beyond, a pixel's own aperture leaves nearly nothing. */
const MAX_CYCLES = 3;
const FREQUENCIES = 480;
/** The spread is tabulated out to this distance, px, in such steps. */
const REACH = 90;
const STEP = 0.125;

/**
 * Light across an edge from 0 to 1, against distance (px), that a contrast (against cycles/px) makes of it, averaged
 * over square pixels that lie turned by the edge's normal: 1/2 + 1/π ∫ M(f) A(f) sin(2πfx)/f df.
 */
export function edgeSpread(
  contrast: (cycles: number) => number,
  [nx, ny]: readonly [number, number],
): (distance: number) => number {
  const step = MAX_CYCLES / FREQUENCIES;
  const frequencies = Float64Array.from({ length: FREQUENCIES }, (_, i) => (i + 0.5) * step);
  const weights = frequencies.map((f) => (contrast(f) * sinc(f * nx) * sinc(f * ny) * step) / (Math.PI * f));
  const table = Float64Array.from({ length: REACH / STEP + 2 }, (_, i) => {
    const turn = 2 * Math.PI * i * STEP;
    return weights.reduce((sum, weight, k) => sum + weight * Math.sin(turn * frequencies[k]!), 0);
  });
  return (distance) => {
    const at = Math.abs(distance) / STEP;
    const i = Math.floor(at);
    const half = at >= REACH / STEP ? 0.5 : table[i]! + (at - i) * (table[i + 1]! - table[i]!);
    return distance < 0 ? 0.5 - half : 0.5 + half;
  };
}

/** Contrast that goes on falling beyond its last frequency, by the exponential its last two agree on. */
export function continued(curve: (frequency: number) => number, last: number): (frequency: number) => number {
  const [before, end] = [curve(0.9 * last), curve(last)];
  const rate = Math.max(0, Math.log(Math.max(1e-9, before) / Math.max(1e-9, end)) / (0.1 * last));
  return (frequency) => (frequency <= last ? curve(frequency) : end * Math.exp(-rate * (frequency - last)));
}
