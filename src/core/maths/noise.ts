/** Repeatable noise over one number, by an integer hash: the same on every machine. */

function hash(seed: number, index: number): number {
  let h = Math.imul(seed ^ 0x9e3779b1, 0x85ebca6b) ^ Math.imul(index + 0x7f4a7c15, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}

/** A number from -1 to 1 for a whole place. */
export const steppedNoise = (seed: number, place: number) => 2 * hash(seed, Math.floor(place)) - 1;

/** Smooth between whole places, -1 to 1. */
export function smoothNoise(seed: number, place: number): number {
  const cell = Math.floor(place);
  const t = place - cell;
  const u = t * t * (3 - 2 * t);
  return steppedNoise(seed, cell) * (1 - u) + steppedNoise(seed, cell + 1) * u;
}
