import { median, MeasureError, middleOf, type Plane } from "./plane";
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
/** What counts as the axis: this share of the half diagonal. */
const AXIS = 0.06;
/** A ring with fewer pixels says nothing. */
const FEWEST = 16;

/**
 * Relative illumination of an evenly lit field: medians over rings, so that dust is passed over. Throws MeasureError.
 */
export function measureFlat(plane: Plane): Illumination {
  const [cx, cy] = [(plane.width - 1) / 2, (plane.height - 1) / 2];
  const corner = Math.hypot(cx, cy) + 1e-6;
  if (Math.min(plane.width, plane.height) < 64)
    throw new MeasureError("The picture is too small; a flat field needs at least 64 by 64 px");
  const axis = middleOf(ringsOf(plane, cx, cy, [0, Math.max(4, corner * AXIS)])[0]!.values);
  if (!(axis.value > 0)) throw new MeasureError("The middle of the picture is black");
  const edges = Array.from({ length: RINGS + 1 }, (_, i) => (corner * i) / RINGS);
  const out: Illumination = { radii: [], relative: [], uncertainty: [] };
  ringsOf(plane, cx, cy, edges).forEach(({ values, radii }) => {
    if (values.length < FEWEST) return;
    const { value, error } = middleOf(values);
    // The frame cuts the outer rings: their pixels' own middle radius is what their middle value goes with.
    out.radii.push(median(radii));
    out.relative.push(value / axis.value);
    out.uncertainty.push(Math.hypot(error, (axis.error * value) / axis.value) / axis.value);
  });
  return out;
}
