/** One channel of a picture, in light; rows from the top. */
export interface Plane {
  width: number;
  height: number;
  data: ArrayLike<number>;
  /** Pixels that count are not 0. Default: all. */
  mask?: Uint8Array;
}

/** A picture that cannot be measured, and why. */
export class MeasureError extends Error {}

/** Middle value; sorts what it is given. */
export function median(values: Float64Array): number {
  const sorted = values.sort();
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** Standard deviation of normal noise for a median absolute deviation of 1. */
const DEVIATION_OF_MAD = 1.4826;
/** What lies further from the median than so many deviations is damage. */
const OUTLIER = 3;

/**
 * The middle of a sample and its standard error, neither moved by a few damaged pixels: the mean of what lies about the
 * median. The median itself would be one of a camera's steps.
 */
export function middleOf(values: Float64Array): { value: number; error: number } {
  const middle = median(values);
  const deviation = DEVIATION_OF_MAD * median(values.map((v) => Math.abs(v - middle)));
  const near = values.filter((v) => Math.abs(v - middle) <= OUTLIER * deviation);
  const value = near.reduce((sum, v) => sum + v, 0) / near.length;
  return { value, error: deviation / Math.sqrt(near.length) };
}
