import { leastSquares } from "../maths/leastSquares";
import { MeasureError, middleOf, type Plane } from "./plane";
import { ringsOf } from "./rings";

export interface Illumination {
  /** Image heights, px from the frame's middle. */
  radii: number[];
  /** Light against that on the axis. */
  relative: number[];
  /** Standard error of each. */
  uncertainty: number[];
}

const RINGS = 24;
/** Light on the axis is read within this share of the half diagonal, and so many px at least; in rings of one area. */
const AXIS = 0.1;
const MIN_AXIS = 12;
const AXIS_RINGS = 8;
/** A ring with fewer pixels says nothing. */
const FEWEST = 16;

/**
 * Light on the axis itself, and its standard error: a parabola of the radius through the rings about it, for light
 * falls even near the axis.
 */
function lightOnAxis(plane: Plane, cx: number, cy: number, corner: number): { value: number; error: number } {
  const reach = Math.max(MIN_AXIS, corner * AXIS);
  const edges = Array.from({ length: AXIS_RINGS + 1 }, (_, i) => reach * Math.sqrt(i / AXIS_RINGS));
  const rings = ringsOf(plane, cx, cy, edges).filter(({ values }) => values.length >= FEWEST);
  const middles = rings.map(({ values, radii }) => ({
    ...middleOf(values),
    distance: radii.reduce((sum, radius) => sum + radius, 0) / radii.length / reach,
  }));
  const found = leastSquares(
    middles.map(({ distance }) => [1, distance, distance ** 2]),
    middles.map(({ value }) => value),
  );
  return found
    ? { value: found.solution[0]!, error: found.deviations[0]! }
    : (middles[0] ?? { value: 0, error: Infinity });
}

/**
 * Relative illumination of an evenly lit field: medians over rings, so that dust is passed over. Throws MeasureError.
 */
export function measureFlat(plane: Plane): Illumination {
  const [cx, cy] = [(plane.width - 1) / 2, (plane.height - 1) / 2];
  const corner = Math.hypot(cx, cy) + 1e-6;
  if (Math.min(plane.width, plane.height) < 64)
    throw new MeasureError("The picture is too small; a flat field needs at least 64 by 64 px");
  const axis = lightOnAxis(plane, cx, cy, corner);
  if (!(axis.value > 0)) throw new MeasureError("The middle of the picture is black");
  const edges = Array.from({ length: RINGS + 1 }, (_, i) => (corner * i) / RINGS);
  const out: Illumination = { radii: [], relative: [], uncertainty: [] };
  ringsOf(plane, cx, cy, edges).forEach(({ values, radii }) => {
    if (values.length < FEWEST) return;
    const { value, error } = middleOf(values);
    // The frame cuts the outer rings: their pixels' own mean radius is what their mean value goes with.
    out.radii.push(radii.reduce((sum, radius) => sum + radius, 0) / radii.length);
    out.relative.push(value / axis.value);
    out.uncertainty.push(Math.hypot(error, (axis.error * value) / axis.value) / axis.value);
  });
  return out;
}
