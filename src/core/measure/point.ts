import { MeasureError, middleOf, type Plane } from "./plane";
import { middleRadius, ringsOf } from "./rings";

export interface PointSpread {
  /** The source's place, px. */
  x: number;
  y: number;
  /** Distances from the source, px, in equal steps of their logarithm. */
  radii: number[];
  /** Mean over each ring of the light a px², as a share of all the light in the picture above its background. */
  light: number[];
  /** Standard error of each. */
  uncertainty: number[];
}

const RINGS_A_DECADE = 8;
const INNERMOST = 1;
/** Half the window the source's place is found in, px. */
const WINDOW = 3;

/**
 * Radial spread of one point source, about the place it has in `finder`, a channel of the same picture; what the outermost ring
 * holds is taken for background. Throws MeasureError.
 */
export function measurePoint(plane: Plane, finder = plane): PointSpread {
  const { width, height } = plane;
  let peak = 0;
  for (let i = 1; i < width * height; i++) if (finder.data[i]! > finder.data[peak]!) peak = i;
  const [px, py] = [peak % width, Math.floor(peak / width)];
  const reach = Math.min(px, py, width - 1 - px, height - 1 - py);
  if (reach < 16) throw new MeasureError("The brightest point is less than 16 px from the picture's edge");
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = py - WINDOW; y <= py + WINDOW; y++)
    for (let x = px - WINDOW; x <= px + WINDOW; x++) {
      const v = finder.data[y * width + x]!;
      [sum, sx, sy] = [sum + v, sx + v * x, sy + v * y];
    }
  if (!(sum > 0)) throw new MeasureError("There is no point of light in the picture");
  const [x, y] = [sx / sum, sy / sum];
  const steps = Math.floor(Math.log10(reach / INNERMOST) * RINGS_A_DECADE);
  const edges = [0, ...Array.from({ length: steps + 1 }, (_, i) => INNERMOST * 10 ** (i / RINGS_A_DECADE))];
  const rings = ringsOf(plane, x, y, edges);
  const background = middleOf(rings.at(-1)!).value;
  let total = 0;
  for (let i = 0; i < width * height; i++) total += plane.data[i]! - background;
  const out: PointSpread = { x, y, radii: [], light: [], uncertainty: [] };
  rings.slice(0, -1).forEach((values, i) => {
    if (!values.length) return;
    const mean = values.reduce((s, v) => s + v, 0) / values.length;
    const variance = values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length;
    out.radii.push(middleRadius(edges[i]!, edges[i + 1]!));
    out.light.push((mean - background) / total);
    out.uncertainty.push(Math.sqrt(variance / values.length) / total);
  });
  return out;
}
