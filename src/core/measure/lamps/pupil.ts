/** The pupil of a lens from discs of lamps out of focus: its blades, its cat's eye, its rim. */
import { leastSquares } from "../../maths/leastSquares";
import type { Blob } from "../blobs";
import { MeasureError, type Plane } from "../plane";

export interface PupilMeasurement {
  blades: number;
  roundness: number;
  /** Share of the pupil still open at even steps of image height, from the axis to the frame's corner. */
  catEye: number[];
  /** Light at the rim against the middle, less one. */
  rim: number;
  /** Standard errors of the shares, and of the rim. */
  uncertainty: { catEye: number; rim: number };
  discs: number;
}

/** Outlines are read in this many directions, in steps of this, px. */
const RAYS = 720;
const STEP = 0.25;
/** An outline lies where light is half of what it was so far further in, px. */
const WITHIN = 3;
/** Discs this near the axis (share of the corner's height) show the iris, and so many at least are wanted. */
const NEAR_AXIS = 0.3;
/** The barrel cuts one half of a disc; of the other these directions are used (cosine from its middle). */
const MIN_ASIDE = 0.15;
/** Nearer to the axis than this share of the corner's height, the barrel cuts nothing and no half is the other. */
const ON_AXIS = 0.02;
/** Numbers of blades that are tried, and turns of each. */
const [MIN_BLADES, MAX_BLADES] = [4, 20];
const TURNS = 24;
/** Straight blades have to leave less than this share of what a circle leaves of the outline's squares. */
const WORTH = 0.7;
/** Rim: light as 1 + rim·(2·r⁶ − ½) over this share of the radius (core/elements/pupil). */
const RIM_TO = 0.9;
const RIM_POWER = 6;
/** Samples of the cat's eye, and the fewest discs it is read from. */
const CAT_EYE_SAMPLES = 6;
const FEWEST_DISCS = 6;
const NARROWEST = 0.01;
/** What tips of a narrow pupil and pixels leave of error, measured on computed discs. */
const [CAT_EYE_SYSTEMATIC, RIM_SYSTEMATIC] = [0.01, 0.004];

function lightAt({ width, data }: Plane, x: number, y: number): number {
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [u, v] = [x - i, y - j];
  const at = j * width + i;
  const row = (k: number) => data[at + k * width]! * (1 - u) + data[at + k * width + 1]! * u;
  return row(0) * (1 - v) + row(1) * v;
}

const angleOf = (ray: number) => (2 * Math.PI * ray) / RAYS;

/** Distances (px) from a disc's middle to its outline, by direction: where light is half of what it was just within. */
function outlineOf(plane: Plane, { x, y, area }: Blob): Float64Array {
  const longest = 2 * Math.sqrt(area / Math.PI);
  const reach = Math.min(longest, x - 1, y - 1, plane.width - 3 - x, plane.height - 3 - y);
  const steps = Math.round(WITHIN / STEP);
  return Float64Array.from({ length: RAYS }, (_, ray) => {
    const [dx, dy] = [Math.cos(angleOf(ray)), Math.sin(angleOf(ray))];
    const lights: number[] = [];
    for (let r = longest / 8; r < reach; r += STEP) {
      const here = lightAt(plane, x + r * dx, y + r * dy);
      const before = lights.at(-1) ?? here;
      const wanted = (lights.at(-steps) ?? here) / 2;
      if (here < wanted) return r - (STEP * (wanted - here)) / Math.max(before - here, 1e-12);
      lights.push(here);
    }
    return reach;
  });
}

/** px² within an outline. */
const areaWithin = (outline: Float64Array) => outline.reduce((sum, r) => sum + (r * r) / 2, 0) * ((2 * Math.PI) / RAYS);

interface HalfDisc {
  /** The middle of the circle that a half of the outline is part of, px, and its radius. */
  x: number;
  y: number;
  radius: number;
  /** The outline against that circle, by direction; NaN in the other half. */
  ratios: Float64Array;
}

/**
 * One half of a disc's outline, about the middle of the circle it is part of. Iris and barrel are alike in size: a disc
 * that the barrel cuts has one of them on either side. `side`: the direction of the half's middle; null takes all.
 */
function halfDisc({ x, y }: Blob, outline: Float64Array, side: number | null): HalfDisc | null {
  const used = [...outline.keys()].filter((ray) => side === null || Math.cos(angleOf(ray) - side) > MIN_ASIDE);
  const found = leastSquares(
    used.map((ray) => [1, Math.cos(angleOf(ray)), Math.sin(angleOf(ray))]),
    used.map((ray) => outline[ray]!),
  );
  if (!found) return null;
  const [radius, dx, dy] = found.solution as [number, number, number];
  const ratios = new Float64Array(RAYS).fill(NaN);
  for (const ray of used)
    ratios[ray] = outline[ray]! / (radius + dx * Math.cos(angleOf(ray)) + dy * Math.sin(angleOf(ray)));
  return { x: x + dx, y: y + dy, radius, ratios };
}

/** The iris's outline against its radius, by direction: a mean of discs near the axis, each where it is not cut. */
function irisOf(all: readonly { ratios: Float64Array }[]): { angle: number; ratio: number }[] {
  return Array.from({ length: RAYS }, (_, ray) => {
    const own = all.map(({ ratios }) => ratios[ray]!).filter((value) => !Number.isNaN(value));
    return { angle: angleOf(ray), ratio: own.reduce((sum, value) => sum + value, 0) / own.length };
  }).filter(({ ratio }) => Number.isFinite(ratio));
}

/** How far straight blades lie within the circle through their corners, as a share of its radius. */
const sagOf = (blades: number, angle: number) => {
  const sector = (2 * Math.PI) / blades;
  const within = (((angle % sector) + sector) % sector) - sector / 2;
  return Math.cos(sector / 2) / Math.cos(within) - 1;
};

interface Blades {
  blades: number;
  roundness: number;
  /** What they leave of what a circle leaves, of the outline's squares. */
  left: number;
}

/** Blades and their roundness that the outline bears out; none, where a circle does as well. */
function bladesOf(iris: readonly { angle: number; ratio: number }[]): Blades {
  // What the barrel and a middle a little aside leave goes slowly round; blades go fast.
  const slow = ({ angle }: { angle: number }) => [1, 2, 3].flatMap((k) => [Math.cos(k * angle), Math.sin(k * angle)]);
  const target = iris.map(({ ratio }) => ratio);
  const fit = (more: (angle: number) => number[]) =>
    leastSquares(
      iris.map((one) => [1, ...slow(one), ...more(one.angle)]),
      target,
    );
  const round = fit(() => []);
  let best: Blades = { blades: 0, roundness: 1, left: WORTH };
  for (let blades = MIN_BLADES; round && blades <= MAX_BLADES; blades++)
    for (let turn = 0; turn < TURNS; turn++) {
      const from = (2 * Math.PI * turn) / blades / TURNS;
      const found = fit((angle) => [sagOf(blades, angle - from)]);
      if (!found) continue;
      const straightness = found.solution.at(-1)! / found.solution[0]!;
      const left = (found.residual / round.residual) ** 2;
      if (straightness > 0 && left < best.left) best = { blades, roundness: Math.max(0, 1 - straightness), left };
    }
  return best;
}

/** Rim light of a disc: how its light goes with the sixth power of the radius, over the half that is the iris's. */
function rimOf({ width, data }: Plane, { x, y, radius }: HalfDisc, side: number | null): number | null {
  const [rows, light]: [number[][], number[]] = [[], []];
  const reach = Math.ceil(RIM_TO * radius);
  for (let j = -reach; j <= reach; j++)
    for (let i = -reach; i <= reach; i++) {
      const [px, py] = [Math.round(x) + i, Math.round(y) + j];
      const share = Math.hypot(px - x, py - y) / radius;
      if (share > RIM_TO || (side !== null && Math.cos(Math.atan2(j, i) - side) < MIN_ASIDE)) continue;
      rows.push([1, share ** RIM_POWER]);
      light.push(data[py * width + px]!);
    }
  const found = leastSquares(rows, light);
  if (!found) return null;
  const slope = found.solution[1]! / found.solution[0]!;
  return slope / (2 + slope / 2);
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

const deviationOf = (values: readonly number[]) => {
  const middle = mean(values);
  return Math.sqrt(mean(values.map((value) => (value - middle) ** 2)));
};

/**
 * Share of the pupil that is open at even steps of image height, from the areas of all discs: straight lines between the
 * steps, as a profile holds them.
 */
function catEyeOf(discs: readonly { height: number; area: number }[], corner: number) {
  const steps = CAT_EYE_SAMPLES - 1;
  const found = leastSquares(
    discs.map(({ height }) =>
      Array.from({ length: CAT_EYE_SAMPLES }, (_, i) => {
        const distance = Math.abs((height / corner) * steps - i);
        return Math.max(0, 1 - distance);
      }),
    ),
    discs.map(({ area }) => area),
  );
  if (!found)
    throw new MeasureError(
      "the lamps leave a gap between the middle and the corners; the cat's eye needs them all over",
    );
  const axis = found.solution[0]!;
  let narrowest = 1;
  const catEye = found.solution.map((area) => {
    narrowest = Math.min(narrowest, Math.max(NARROWEST, area / axis));
    return narrowest;
  });
  return { catEye, error: Math.max(...found.deviations) / axis };
}

/** `pitch`: mm a pixel; the axis in px of the plane; `corner`: mm. Throws MeasureError. */
export function pupilOfDiscs(
  light: Plane,
  blobs: readonly Blob[],
  { axisX, axisY, pitch, corner }: { axisX: number; axisY: number; pitch: number; corner: number },
): PupilMeasurement {
  if (blobs.length < FEWEST_DISCS)
    throw new MeasureError(
      `${blobs.length} lamps are out of focus; ${FEWEST_DISCS} from the middle to the corners are wanted`,
    );
  const discs = blobs.map((blob) => {
    const outline = outlineOf(light, blob);
    const [dx, dy] = [blob.x - axisX, blob.y - axisY];
    return {
      blob,
      outline,
      area: areaWithin(outline),
      height: Math.hypot(dx, dy) * pitch,
      outward: Math.atan2(dy, dx),
    };
  });
  const near = discs.filter(({ height }) => height < NEAR_AXIS * corner);
  if (!near.length) throw new MeasureError("no lamp lies near the middle of the frame, where the iris shows whole");
  const halves = [0, Math.PI].map((turn) => {
    const read = near.flatMap(({ blob, outline, outward, height }) => {
      const side = height < ON_AXIS * corner ? null : outward + turn;
      const half = halfDisc(blob, outline, side);
      return half ? [{ half, rim: rimOf(light, half, side) }] : [];
    });
    const rims = read.map(({ rim }) => rim).filter((rim) => rim !== null);
    return { blades: bladesOf(irisOf(read.map(({ half }) => half))), rims, unlike: deviationOf(rims) };
  });
  // Of the two halves one is the iris: its blades show, or else its rim is the same from disc to disc.
  const [outer, inner] = halves as [(typeof halves)[number], (typeof halves)[number]];
  const isOuter =
    outer.blades.left === inner.blades.left ? outer.unlike < inner.unlike : outer.blades.left < inner.blades.left;
  const { blades, rims, unlike } = isOuter ? outer : inner;
  const { catEye, error } = catEyeOf(discs, corner);
  return {
    blades: blades.blades,
    roundness: blades.roundness,
    catEye,
    rim: mean(rims),
    uncertainty: {
      catEye: Math.hypot(error, CAT_EYE_SYSTEMATIC),
      rim: Math.hypot(unlike / Math.sqrt(rims.length), RIM_SYSTEMATIC),
    },
    discs: discs.length,
  };
}
