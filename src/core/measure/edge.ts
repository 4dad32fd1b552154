/**
 * Spatial frequency response of a slanted edge, after ISO 12233: the edge is found to a fraction of a pixel on each
 * line, its profile gathered over all lines in bins of a quarter pixel along the edge's normal, differentiated,
 * windowed and transformed. What is not one straight, unclipped edge is refused.
 */
import { MeasureError, type Plane } from "./plane";
import { beyondOf, levelsOf, type Line, OVERSAMPLING, part, profileOf, windowOf } from "./profile";
import { type Spectrum, spectrumOf } from "./edge-spectrum";
import { flattened, tailOf } from "./surroundings";

export interface EdgeResponse extends Spectrum {
  /** Degrees from upright (or from level, for a level edge). */
  angle: number;
  /** The edge's normal, a unit vector: x to the right, y down. */
  normal: [number, number];
  /** Standard deviation of the line fitted to the edge's places, px: how sure the angle is. */
  residual: number;
  /** Half the width of the profile that was transformed, px along the normal: it goes with the edge's softness. */
  half: number;
  /**
   * Change of light beyond that, against the edge's own: what a wide glow, or uneven light, adds. Null where it is not
   * seen.
   */
  beyond: number | null;
}

/** Lines further from the fitted edge than this are left out as damaged, px. */
const OUTLIER = 1.5;
const STRAIGHTEST_DEGREES = 0.8;
/** A row counts where so much of the widest one is there. */
const WHOLE_ROW = 0.8;
/** The line is fitted anew, about the last, until it moves by less than this, px; a soft edge takes more rounds. */
const ROUNDS = 20;
const SETTLED = 1e-3;
/** From one side of the region to the other light changes by at least this share of its range; a bar's does not. */
const MIN_STEP = 0.3;
const MORE_THAN_ONE = "There is more than one edge in the region, or a line; it must hold one edge alone";

function transposed({ width, height, data, mask }: Plane): Plane {
  const out = new Float64Array(width * height);
  const own = mask && new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      out[x * height + y] = data[y * width + x]!;
      if (own) own[x * height + y] = mask[y * width + x]!;
    }
  return { width: height, height: width, data: out, mask: own };
}

/** Total change along rows and along columns: an edge is crossed by the lines that change more. */
function crossesRows({ width, height, data, mask }: Plane): boolean {
  let [across, down] = [0, 0];
  for (let y = 1; y < height; y++)
    for (let x = 1; x < width; x++) {
      if (mask && !mask[y * width + x]) continue;
      across += Math.abs(data[y * width + x]! - data[y * width + x - 1]!);
      down += Math.abs(data[y * width + x]! - data[(y - 1) * width + x]!);
    }
  return across >= down;
}

/** The pixels of a row that count, from the first to the one before the end. */
function rowOf({ width, mask }: Plane, y: number): [first: number, end: number] {
  if (!mask) return [0, width];
  const row = mask.subarray(y * width, (y + 1) * width);
  const first = row.indexOf(1);
  return first < 0 ? [0, 0] : [first, row.lastIndexOf(1) + 1];
}

/** Light at the ends of a region's rows, less that at their beginnings. */
function stepOf(plane: Plane): number {
  const { width, height, data } = plane;
  let [sum, count] = [0, 0];
  for (let y = 0; y < height; y++) {
    const [first, end] = rowOf(plane, y);
    const columns = Math.max(1, (end - first) >> 3);
    for (let x = 0; x < columns && first + x < end; x++) {
      sum += data[y * width + end - 1 - x]! - data[y * width + first + x]!;
      count++;
    }
  }
  return sum / count;
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
function crossings(plane: Plane, around?: { slope: number; offset: number }): { x: number; y: number }[] {
  const { width, height, data } = plane;
  const points: { x: number; y: number }[] = [];
  const rows = Array.from({ length: height }, (_, y) => rowOf(plane, y));
  const widest = Math.max(...rows.map(([first, end]) => end - first));
  for (let y = 0; y < height; y++) {
    const [first, end] = rows[y]!;
    // A row that is cut short may lack the edge.
    if (end - first < WHOLE_ROW * widest) continue;
    const centre = around ? around.offset + around.slope * y : (first + end - 1) / 2;
    const half = around ? Math.min(widest / 3, 12) : widest / 2;
    let [weight, sum] = [0, 0];
    for (let x = Math.max(first + 1, Math.floor(centre - half)); x < Math.min(end, Math.ceil(centre + half)); x++) {
      const window = 0.54 + 0.46 * Math.cos((Math.PI * (x - 0.5 - centre)) / half);
      const change = (data[y * width + x]! - data[y * width + x - 1]!) * window;
      weight += change;
      sum += change * (x - 0.5);
    }
    if (Math.abs(weight) > 1e-12) points.push({ x: sum / weight, y });
  }
  return points;
}

/**
 * How far the edge bows from its line over its length, px, and the standard error of that: a parabola's share of the
 * crossings.
 */
function bowOf(points: { x: number; y: number }[], { slope, offset }: Line): { bow: number; error: number } {
  const [first, last] = [points[0]!.y, points.at(-1)!.y];
  // The second Legendre polynomial: 1 at both ends, -1/2 in the middle.
  const shape = ({ y }: { y: number }) => 1.5 * ((2 * y - first - last) / (last - first)) ** 2 - 0.5;
  const squares = points.reduce((sum, point) => sum + shape(point) ** 2, 0);
  const off = (point: { x: number; y: number }) => point.x - offset - slope * point.y;
  const size = points.reduce((sum, point) => sum + shape(point) * off(point), 0) / squares;
  const rest = points.reduce((sum, point) => sum + (off(point) - size * shape(point)) ** 2, 0) / points.length;
  return { bow: 1.5 * Math.abs(size), error: 1.5 * Math.sqrt(rest / squares) };
}

/** Edges that bow by more than this, px, would be read too soft. */
const MAX_BOW = 0.25;
/** Sharpening overshoots an edge's levels by less than this share of its step; a bar or a pattern by more. */
const MAX_OVERSHOOT = 0.4;
/** A second slope at least this steep against the steepest, behind one at most this steep, is another edge. */
const SECOND_EDGE = 0.3;
const BETWEEN_EDGES = 0.1;
/** Of a clipped side's pixels at least this share are exactly alike. */
const ALIKE = 0.5;
/**
 * A clipped profile stops this steeply, against its steepest; one that is not, on its other side, less than a quarter
 * so.
 */
const STOPS = 0.2;

/** Refuses a profile that is not of one edge. */
function refuseMore(light: Float64Array): void {
  const [from, to] = levelsOf(light);
  const shares = light.map((value) => (value - from) / (to - from));
  // Slopes over a pixel, so that noise is no edge.
  const slopes = Float64Array.from(shares.subarray(OVERSAMPLING), (value, i) => value - shares[i]!);
  const steepest = Math.max(...slopes);
  const over = Math.max(Math.max(...shares) - 1, -Math.min(...shares));
  const first = slopes.indexOf(steepest);
  const another = [slopes.subarray(first), slopes.slice(0, first).reverse()].some((side) => {
    const valley = side.findIndex((slope) => slope < BETWEEN_EDGES * steepest);
    return valley >= 0 && side.subarray(valley).some((slope) => slope > SECOND_EDGE * steepest);
  });
  if (over > MAX_OVERSHOOT || another) throw new MeasureError(MORE_THAN_ONE);
}

/**
 * How steeply a profile, from the edge outwards, comes to pixels that are exactly alike: its slope over a px before
 * them.
 */
function stopOf(outwards: Float64Array): number {
  const end = outwards.at(-1)!;
  const span = Math.abs(outwards[0]! - end);
  const at = outwards.findIndex((value) => Math.abs(value - end) < 1e-6 * span);
  return at < OVERSAMPLING ? 0 : Math.abs(outwards[at - OVERSAMPLING]! - end);
}

/** Refuses a region one side of which is cut off at a white or a black: its profile would be read too sharp. */
function refuseClipped(values: Float64Array, light: Float64Array): void {
  const [low, high] = [values.reduce((a, b) => Math.min(a, b)), values.reduce((a, b) => Math.max(a, b))];
  const middle = (low + high) / 2;
  const alike = (extreme: number, isSide: (value: number) => boolean) => {
    const side = values.filter(isSide);
    return side.filter((value) => value === extreme).length / Math.max(1, side.length);
  };
  const [darks, lights] = [alike(low, (value) => value < middle), alike(high, (value) => value >= middle)];
  const half = light.length >> 1;
  const sides = [light.slice(0, half).reverse(), light.slice(half)];
  const [dark, bright] = light[0]! < light.at(-1)! ? sides : sides.reverse();
  const [below, above] = [stopOf(dark!), stopOf(bright!)];
  const steepest = Math.max(
    ...Float64Array.from(light.subarray(OVERSAMPLING), (value, i) => Math.abs(value - light[i]!)),
  );
  const isCut = (own: number, other: number, alikeOwn: number, alikeOther: number) =>
    alikeOwn > ALIKE && ((own > STOPS * steepest && other < own / 4) || alikeOther < ALIKE / 4);
  if (isCut(above, below, lights, darks))
    throw new MeasureError("The bright side of the edge is clipped; expose the chart less");
  if (isCut(below, above, darks, lights))
    throw new MeasureError("The dark side of the edge is clipped; expose the chart more");
}

/**
 * Measures the one edge a region holds; light, not code values. Throws MeasureError with the reason where it cannot.
 */
export function measureEdge(region: Plane): EdgeResponse {
  const upright = crossesRows(region);
  const plane = upright ? region : transposed(region);
  const { width, height, data } = plane;
  if (width < 16 || height < 16) throw new MeasureError("The region is too small; an edge needs at least 16 by 16 px");
  const { mask } = plane;
  const values = Float64Array.from({ length: width * height }, (_, i) => data[i]!).filter((_, i) => !mask || mask[i]);
  const sorted = values.slice().sort();
  const [low, high] = [sorted[Math.floor(sorted.length * 0.05)]!, sorted[Math.floor(sorted.length * 0.95)]!];
  if (!(high - low > 1e-6)) throw new MeasureError("There is no edge in the region");
  if (Math.abs(stepOf(plane)) < MIN_STEP * (high - low)) throw new MeasureError(MORE_THAN_ONE);
  let line = fitLine(crossings(plane));
  let near: { x: number; y: number }[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const before = line;
    near = crossings(plane, line).filter(
      ({ x, y }) => Math.abs(x - line.offset - line.slope * y) < Math.max(OUTLIER, 3 * line.residual),
    );
    if (near.length < 8) throw new MeasureError("The edge is lost in noise");
    line = fitLine(near);
    if (Math.abs(line.slope - before.slope) * height < SETTLED && Math.abs(line.offset - before.offset) < SETTLED)
      break;
  }
  const angle = (Math.atan(line.slope) * 180) / Math.PI;
  if (Math.abs(angle) < STRAIGHTEST_DEGREES)
    throw new MeasureError(
      `The edge is too straight (${angle.toFixed(2)}°); it must be slanted by at least ${STRAIGHTEST_DEGREES}°`,
    );
  const { bow, error } = bowOf(near, line);
  if (bow > MAX_BOW && bow > 4 * error)
    throw new MeasureError(`The edge is curved, by ${bow.toFixed(2)} px over its length; take a shorter part of it`);
  const whole = profileOf(plane, line);
  const { profile, half } = windowOf(whole);
  const even = flattened(whole, half);
  refuseMore(profile.light);
  refuseClipped(values, profile.light);
  const cosine = 1 / Math.hypot(1, line.slope);
  const normal: [number, number] = upright ? [cosine, -line.slope * cosine] : [-line.slope * cosine, cosine];
  return {
    angle,
    normal,
    residual: line.residual,
    half,
    beyond: beyondOf(whole, profile),
    ...spectrumOf(part(even, half), tailOf(even, half)),
  };
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
