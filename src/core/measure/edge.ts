/**
 * Spatial frequency response of a slanted edge, after ISO 12233: the edge is found to a fraction of a pixel on each line, its
 * profile gathered over all lines in bins of a quarter pixel along the edge's normal, differentiated, windowed and transformed.
 */
import { MeasureError, type Plane } from "./plane";

export interface EdgeResponse {
  /** Degrees from upright (or from level, for a level edge). */
  angle: number;
  /** The edge's normal, a unit vector: x to the right, y down. */
  normal: [number, number];
  /** Cycles/px along the edge's normal, ascending. */
  frequencies: number[];
  contrast: number[];
  /** Standard deviation of the line fitted to the edge's places, px: how sure the angle is. */
  residual: number;
}

const OVERSAMPLING = 4;
/** Half the width of the profile taken, px along the normal. */
const HALF_PROFILE = 24;
/** Lines further from the fitted edge than this are left out as damaged, px. */
const OUTLIER = 1.5;
const STRAIGHTEST_DEGREES = 0.8;

function transposed({ width, height, data }: Plane): Plane {
  const out = new Float64Array(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out[x * height + y] = data[y * width + x]!;
  return { width: height, height: width, data: out };
}

/** Total change along rows and along columns: an edge is crossed by the lines that change more. */
function crossesRows({ width, height, data }: Plane): boolean {
  let [across, down] = [0, 0];
  for (let y = 1; y < height; y++)
    for (let x = 1; x < width; x++) {
      across += Math.abs(data[y * width + x]! - data[y * width + x - 1]!);
      down += Math.abs(data[y * width + x]! - data[(y - 1) * width + x]!);
    }
  return across >= down;
}

function fitLine(points: { x: number; y: number }[]): { slope: number; offset: number; residual: number } {
  const n = points.length;
  const [mx, my] = [points.reduce((s, p) => s + p.x, 0) / n, points.reduce((s, p) => s + p.y, 0) / n];
  const slope =
    points.reduce((s, p) => s + (p.y - my) * (p.x - mx), 0) / points.reduce((s, p) => s + (p.y - my) ** 2, 0);
  const offset = mx - slope * my;
  return { slope, offset, residual: Math.sqrt(points.reduce((s, p) => s + (p.x - offset - slope * p.y) ** 2, 0) / n) };
}

/** Where the edge crosses each line: the centroid of the differences, weighed down towards the line's ends. */
function crossings(
  { width, height, data }: Plane,
  around?: { slope: number; offset: number },
): { x: number; y: number }[] {
  const points: { x: number; y: number }[] = [];
  for (let y = 0; y < height; y++) {
    const centre = around ? around.offset + around.slope * y : (width - 1) / 2;
    const half = around ? Math.min(width / 3, 12) : width / 2;
    let [weight, sum] = [0, 0];
    for (let x = Math.max(1, Math.floor(centre - half)); x < Math.min(width, Math.ceil(centre + half)); x++) {
      const window = 0.54 + 0.46 * Math.cos((Math.PI * (x - 0.5 - centre)) / half);
      const change = (data[y * width + x]! - data[y * width + x - 1]!) * window;
      weight += change;
      sum += change * (x - 0.5);
    }
    if (Math.abs(weight) > 1e-12) points.push({ x: sum / weight, y });
  }
  return points;
}

/** Measures the one edge a region holds; light, not code values. Throws MeasureError with the reason where it cannot. */
export function measureEdge(region: Plane): EdgeResponse {
  const upright = crossesRows(region);
  const plane = upright ? region : transposed(region);
  const { width, height, data } = plane;
  if (width < 16 || height < 16) throw new MeasureError("The region is too small; an edge needs at least 16 by 16 px");
  const values = Array.from({ length: width * height }, (_, i) => data[i]!);
  const sorted = [...values].sort((a, b) => a - b);
  const [low, high] = [sorted[Math.floor(sorted.length * 0.05)]!, sorted[Math.floor(sorted.length * 0.95)]!];
  if (!(high - low > 1e-6)) throw new MeasureError("There is no edge in the region");
  let line = fitLine(crossings(plane));
  for (let round = 0; round < 3; round++) {
    const near = crossings(plane, line).filter(
      ({ x, y }) => Math.abs(x - line.offset - line.slope * y) < Math.max(OUTLIER, 3 * line.residual),
    );
    if (near.length < 8) throw new MeasureError("The edge is lost in noise");
    line = fitLine(near);
  }
  const angle = (Math.atan(line.slope) * 180) / Math.PI;
  if (Math.abs(angle) < STRAIGHTEST_DEGREES)
    throw new MeasureError(
      `The edge is too straight (${angle.toFixed(2)}°); it must be slanted by at least ${STRAIGHTEST_DEGREES}°`,
    );
  const cosine = 1 / Math.hypot(1, line.slope);
  const bins = 2 * HALF_PROFILE * OVERSAMPLING;
  const sums = new Float64Array(bins);
  const counts = new Float64Array(bins);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const bin = Math.floor(((x - line.offset - line.slope * y) * cosine + HALF_PROFILE) * OVERSAMPLING);
      if (bin < 0 || bin >= bins) continue;
      sums[bin]! += data[y * width + x]!;
      counts[bin]!++;
    }
  const profile = fillGaps(sums, counts);
  const normal: [number, number] = upright ? [cosine, -line.slope * cosine] : [-line.slope * cosine, cosine];
  return { angle, normal, residual: line.residual, ...spectrum(profile) };
}

function fillGaps(sums: Float64Array, counts: Float64Array): number[] {
  const known = [...counts.keys()].filter((i) => counts[i]);
  if (known.length < counts.length / 2) throw new MeasureError("The region is too small around its edge");
  return Array.from(counts, (count, i) => {
    if (count) return sums[i]! / count;
    const after = known.find((k) => k > i) ?? known.at(-1)!;
    const before = known.findLast((k) => k < i) ?? known[0]!;
    const value = (k: number) => sums[k]! / counts[k]!;
    return after === before
      ? value(after)
      : value(before) + ((value(after) - value(before)) * (i - before)) / (after - before);
  });
}

/** Contrast of the edge's derivative, divided by what the differences and the bins take by themselves. */
function spectrum(profile: number[]): { frequencies: number[]; contrast: number[] } {
  const n = profile.length;
  const spread = profile.slice(1).map((value, i) => value - profile[i]!);
  const peak = (n - 1) / 2;
  const windowed = spread.map((value, i) => value * (0.54 + 0.46 * Math.cos((2 * Math.PI * (i + 0.5 - peak)) / n)));
  const at = (f: number) => {
    let [re, im] = [0, 0];
    windowed.forEach((value, i) => {
      re += value * Math.cos((2 * Math.PI * f * i) / OVERSAMPLING);
      im -= value * Math.sin((2 * Math.PI * f * i) / OVERSAMPLING);
    });
    return Math.hypot(re, im);
  };
  const total = at(0);
  const frequencies = Array.from({ length: 51 }, (_, i) => i / 100);
  const own = (f: number) =>
    f === 0 ? 1 : (Math.sin((Math.PI * f) / OVERSAMPLING) / ((Math.PI * f) / OVERSAMPLING)) ** 2;
  return { frequencies, contrast: frequencies.map((f) => at(f) / total / own(f)) };
}

/** Contrast at a frequency of a response, linear between samples. */
export function contrastAt(
  { frequencies, contrast }: Pick<EdgeResponse, "frequencies" | "contrast">,
  f: number,
): number {
  const i = Math.min(frequencies.length - 2, Math.max(0, frequencies.findIndex((value) => value > f) - 1));
  const t = (f - frequencies[i]!) / (frequencies[i + 1]! - frequencies[i]!);
  return contrast[i]! + (contrast[i + 1]! - contrast[i]!) * t;
}
