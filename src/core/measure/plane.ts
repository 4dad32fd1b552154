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
/** Standard error of a median against that of a mean, for normal noise. */
const MEDIAN_AGAINST_MEAN = 1.2533;

/** The middle of a sample and its standard error, neither moved by a few damaged pixels. */
export function middleOf(values: Float64Array): { value: number; error: number } {
  const value = median(values);
  const deviation = DEVIATION_OF_MAD * median(values.map((v) => Math.abs(v - value)));
  return { value, error: (MEDIAN_AGAINST_MEAN * deviation) / Math.sqrt(values.length) };
}
