/** Repeatable noise over one number, by an integer hash: the same on every machine. */

function hash(seed: number, index: number): number {
  let h = Math.imul(seed ^ 0x9e3779b1, 0x85ebca6b) ^ Math.imul(index + 0x7f4a7c15, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}

/** Mixes an element's seed with a frame's number (a multiplicative hash of Knuth's). */
export const frameSeed = (seed: number, frame: number): number =>
  (Math.imul(seed + 1, 0x9e3779b1) ^ Math.imul(frame + 0x7f4a7c15, 0x85ebca6b)) | 0;

/** Rounding in a frame's time times a rate (0.28 s · 25 Hz is 6.999…) may not put a place into the step before it. */
const ROUNDING = 1e-9;

/** A number from -1 to 1 for the step a place lies in, each a whole number wide. */
export const steppedNoise = (seed: number, position: number) => 2 * hash(seed, Math.floor(position + ROUNDING)) - 1;

/** Smooth between whole places, -1 to 1. */
export function smoothNoise(seed: number, position: number): number {
  const cell = Math.floor(position);
  const t = position - cell;
  const u = t * t * (3 - 2 * t);
  return steppedNoise(seed, cell) * (1 - u) + steppedNoise(seed, cell + 1) * u;
}
