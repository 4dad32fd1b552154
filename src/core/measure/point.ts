import { MeasureError, middleOf, type Plane } from "./plane";
import { centreOf } from "./dots";
import { ringsOf } from "./rings";

export interface PointSpread {
  /** The source's place, px. */
  x: number;
  y: number;
  /** Distances from the source, px: in equal steps of their logarithm, but of a pixel at least. */
  radii: number[];
  /** Light a px² at each distance, as a share of all the light in the picture above its background. */
  light: number[];
  /** Standard error of each. */
  uncertainty: number[];
}

const RINGS_A_DECADE = 16;
/** Rings are at least so wide, px. */
const NARROWEST = 1;
const INNERMOST = 1;
/** The source is at least so far from the picture's edge, px. */
const MIN_REACH = 16;
/** Light this many times its error is sure. */
const SURE = 3;
/** The background is taken from this share of the way to the nearest edge of the picture, outwards. */
const OUTERMOST = 0.9;
/** Room about the brightest pixel that the source's size and place are found in, px. */
const WINDOW = 12;

/** Radii that part the rings: equal steps of the logarithm, but no ring is narrower than a pixel. */
function ringEdges(reach: number): number[] {
  const edges = [0, INNERMOST];
  while (edges.at(-1)! < reach)
    edges.push(Math.max(edges.at(-1)! + NARROWEST, edges.at(-1)! * 10 ** (1 / RINGS_A_DECADE)));
  return edges.slice(0, -1);
}

/** How many times more the mean over a ring is than light at its middle, where light falls by `slope` nepers a px. */
function excessOf(slope: number, width: number): number {
  const half = Math.abs(slope * width) / 2;
  return half < 1e-3 ? 1 : Math.sinh(half) / half;
}

/** The source's place: where a Gaussian of its own size fits it best. */
function centroidOf({ width, height, data }: Plane, px: number, py: number, ground: number): { x: number; y: number } {
  const peak = data[py * width + px]! - ground;
  let above = 0;
  for (let y = py - WINDOW; y <= py + WINDOW; y++)
    for (let x = px - WINDOW; x <= px + WINDOW; x++) if (data[y * width + x]! - ground > peak / 2) above++;
  const lifted = { width, height, data: Float64Array.from(data, (value) => value - ground) };
  const found = centreOf(lifted, { x: px, y: py, radius: Math.sqrt(above / Math.PI) });
  if (!found) throw new MeasureError("The brightest point is no point of light, or lies among others");
  return found;
}

/**
 * Radial spread of one point source, about the place it has in `finder`, a channel of the same picture; what the
 * outermost ring holds is taken for background. Throws MeasureError.
 */
export function measurePoint(plane: Plane, finder = plane): PointSpread {
  const { width, height } = plane;
  let peak = 0;
  for (let i = 1; i < width * height; i++) if (finder.data[i]! > finder.data[peak]!) peak = i;
  const [px, py] = [peak % width, Math.floor(peak / width)];
  const reach = Math.min(px, py, width - 1 - px, height - 1 - py);
  if (reach < MIN_REACH)
    throw new MeasureError(`The brightest point is less than ${MIN_REACH} px from the picture's edge`);
  const outermost = (of: Plane, x: number, y: number) =>
    middleOf(ringsOf(of, x, y, [OUTERMOST * reach, reach])[0]!.values).value;
  const ground = outermost(finder, px, py);
  if (!(finder.data[peak]! > ground)) throw new MeasureError("There is no point of light in the picture");
  const { x, y } = centroidOf(finder, px, py, ground);
  const background = outermost(plane, x, y);
  let total = 0;
  for (let i = 0; i < width * height; i++) total += plane.data[i]! - background;
  const rings = ringsOf(plane, x, y, ringEdges(OUTERMOST * reach)).filter(({ values }) => values.length);
  const means = rings.map(({ values, radii }) => {
    const mean = (of: Float64Array) => of.reduce((s, v) => s + v, 0) / of.length;
    const value = mean(values);
    const variance = values.reduce((s, v) => s + (v - value) ** 2, 0) / values.length;
    return {
      radius: mean(radii),
      width: radii.reduce((a, b) => Math.max(a, b)) - radii.reduce((a, b) => Math.min(a, b)),
      light: (value - background) / total,
      error: Math.sqrt(variance / values.length) / total,
    };
  });
  const out: PointSpread = { x, y, radii: [], light: [], uncertainty: [] };
  means.forEach(({ radius, width: wide, light, error }, i) => {
    const [before, after] = [means[Math.max(0, i - 1)]!, means[Math.min(means.length - 1, i + 1)]!];
    const falls = before.light > 0 && after.light > 0 && after.radius > before.radius;
    const slope = falls ? Math.log(after.light / before.light) / (after.radius - before.radius) : 0;
    // Noise is no slope: only what stands well above its own error is brought to its ring's middle.
    const excess = light > SURE * error || light > SURE * after.error ? excessOf(slope, wide) : 1;
    out.radii.push(radius);
    out.light.push(light / excess);
    out.uncertainty.push(error);
  });
  return out;
}
