/**
 * The profile of an edge, gathered along its normal: what `edge.ts` makes of the line it has found.
 */
import { MeasureError, type Plane } from "./plane";

/** x = offset + slope y, px. */
export interface Line {
  slope: number;
  offset: number;
}

/** Light by distance from an edge, a bin a quarter pixel, the edge in the middle. */
export interface Profile {
  light: Float64Array;
  /** Variance of each bin's mean. */
  variance: Float64Array;
}

/** Bins a px. */
export const OVERSAMPLING = 4;
/** Half the width of the profile that is transformed: at least so many px, and so many deviations of the edge. */
const MIN_HALF = 24;
const DEVIATIONS = 6;
/** The 10 to 90 % width of a Gaussian edge, in its deviations. */
const WIDTH_OF_DEVIATION = 2.563;
const MOST_HALF = 200;
/** Bins over which the noise is taken to be one. */
const NOISE_BINS = 8;

/** Reach of a region on both sides of its edge, px along the normal. */
function reachOf({ width, height }: Plane, { slope, offset }: Line, cosine: number): number {
  const middle = offset + (slope * (height - 1)) / 2;
  return Math.floor(Math.min(middle, width - 1 - middle, MOST_HALF / cosine) * cosine);
}

function fillGaps(sums: Float64Array, counts: Float64Array): Float64Array {
  const known = [...counts.keys()].filter((i) => counts[i]);
  if (known.length < counts.length / 2) throw new MeasureError("The region is too small around its edge");
  let next = 0;
  return Float64Array.from(counts, (count, i) => {
    if (count) return sums[i]! / count;
    while (next < known.length && known[next]! < i) next++;
    const after = known[Math.min(next, known.length - 1)]!;
    const before = known[Math.max(0, next - 1)]!;
    const value = (k: number) => sums[k]! / counts[k]!;
    return after === before
      ? value(after)
      : value(before) + ((value(after) - value(before)) * (i - before)) / (after - before);
  });
}

/** Reach of the pixels that count on both sides of an edge, px along the normal; no limit where all do. */
function maskReach({ width, height, mask }: Plane, { slope, offset }: Line, cosine: number): number {
  if (!mask) return Infinity;
  let [before, behind] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!mask[y * width + x]) continue;
      const distance = (x - offset - slope * y) * cosine;
      before = Math.max(before, -distance);
      behind = Math.max(behind, distance);
    }
  return Math.floor(Math.min(before, behind));
}

/** Light of an upright edge's region by distance from its line, as far as the region goes on both sides. */
export function profileOf(plane: Plane, line: Line): Profile {
  const { width, height, data, mask } = plane;
  const cosine = 1 / Math.hypot(1, line.slope);
  const half = Math.min(reachOf(plane, line, cosine), maskReach(plane, line, cosine));
  if (half < 4) throw new MeasureError("The edge lies too near the region's side; there must be room on both sides");
  const bins = 2 * half * OVERSAMPLING;
  /** A place's distance from the edge, in bins from the profile's start. */
  const binOf = (x: number, y: number) => ((x - line.offset - line.slope * y) * cosine + half) * OVERSAMPLING;
  const [sums, counts, positions] = [0, 0, 0].map(() => new Float64Array(bins)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const everyPixel = (visit: (at: number, value: number) => void) => {
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = binOf(x, y);
        if (mask && !mask[y * width + x]) continue;
        if (at >= 0 && at < bins) visit(at, data[y * width + x]!);
      }
  };
  everyPixel((at, value) => {
    sums[Math.floor(at)]! += value;
    counts[Math.floor(at)]!++;
    positions[Math.floor(at)]! += at;
  });
  const rough = fillGaps(sums, counts);
  // Pixels lie unevenly in a bin: its mean is brought to its middle along the profile's slope.
  const light = rough.map((value, i) => {
    const [before, after] = [Math.max(0, i - 1), Math.min(bins - 1, i + 1)];
    const slope = (rough[after]! - rough[before]!) / (after - before);
    return counts[i] ? value + slope * (i + 0.5 - positions[i]! / counts[i]!) : value;
  });
  // The noise is what pixels differ by from the profile between its bins' middles.
  const squares = new Float64Array(bins);
  everyPixel((at, value) => {
    const from = Math.min(bins - 2, Math.max(0, Math.floor(at - 0.5)));
    const expected = light[from]! + (light[from + 1]! - light[from]!) * (at - 0.5 - from);
    squares[Math.floor(at)]! += (value - expected) ** 2;
  });
  const variance = counts.map((count, i) => {
    let [sum, pixels, means] = [0, 0, 0];
    for (let k = Math.max(0, i - NOISE_BINS); k <= Math.min(bins - 1, i + NOISE_BINS); k++) {
      sum += squares[k]!;
      pixels += counts[k]!;
      means += counts[k] ? 1 : 0;
    }
    return sum / Math.max(1, pixels - means) / Math.max(1, count);
  });
  return { light, variance };
}

const meanOf = (values: ArrayLike<number>, from: number, to: number) => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += values[i]!;
  return sum / (to - from);
};

/** Levels on both sides of a profile: means of its outer eighths. */
export function levelsOf(light: Float64Array): [number, number] {
  const end = Math.max(1, light.length >> 3);
  return [meanOf(light, 0, end), meanOf(light, light.length - end, light.length)];
}

/** The 10 to 90 % width of a profile, px. */
function widthOf(light: Float64Array): number {
  const [from, to] = levelsOf(light);
  const share = (i: number) => (light[i]! - from) / (to - from);
  let first = light.length >> 1;
  while (first > 0 && share(first) > 0.1) first--;
  let last = light.length >> 1;
  while (last < light.length - 1 && share(last) < 0.9) last++;
  return (last - first) / OVERSAMPLING;
}

/** The part of a profile within so many px of its edge. */
export const part = ({ light, variance }: Profile, half: number): Profile => {
  const [from, to] = [light.length / 2 - half * OVERSAMPLING, light.length / 2 + half * OVERSAMPLING];
  return { light: light.subarray(from, to), variance: variance.subarray(from, to) };
};

/**
 * The part of a profile that holds its edge: six deviations on each side, as a softer edge needs more. Throws
 * MeasureError where the region holds less than that.
 */
export function windowOf(profile: Profile): { profile: Profile; half: number } {
  const reach = profile.light.length / 2 / OVERSAMPLING;
  let half = Math.min(reach, MIN_HALF);
  for (;;) {
    const width = widthOf(part(profile, half).light);
    const wanted = Math.ceil((DEVIATIONS * width) / WIDTH_OF_DEVIATION);
    if (wanted <= half) return { profile: part(profile, half), half };
    if (half === reach)
      throw new MeasureError(
        `The edge is ${width.toFixed(1)} px wide; the region must reach ${wanted} px to both sides of it, ` +
          `and reaches ${reach}`,
      );
    half = Math.min(reach, wanted);
  }
}

/** The change that lies beyond the window, as a share of what lies within; null where the region ends there. */
export function beyondOf({ light }: Profile, window: Profile): number | null {
  if (light.length < 1.5 * window.light.length) return null;
  const [from, to] = levelsOf(window.light);
  const [first, last] = levelsOf(light);
  return Math.abs((last - first) / (to - from) - 1);
}
