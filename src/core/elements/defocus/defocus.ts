import { cornerHeight } from "../../frame/geometry";
import { planResize } from "../../engine/operations";
import type { PlanBuilder } from "../../engine/plan";
import {
  addProgram,
  curvesOperation,
  differenceOperation,
  layerOperation,
  type PointOperation,
  blendOperation,
  sumOperation,
} from "../../engine/pointwise";
import { clamp } from "../../maths/interpolate";
import { everySecond } from "../../maths/taps";
import { planDouble, planHalve, planLay } from "../../spread/gaussian";
import { planDepth } from "../depth";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord, keyFields } from "../key";
import { planPupil, pupilOf, pupilParameters, type PupilPlan } from "../pupil";
import type { FrameContext } from "../../frame/context";

type Defocus = ValuesOf<typeof parameters>;

/** Radius of the circle of confusion at infinity, mm on the sensor: f² / (2 N (s − f)). */
export function circleAtInfinity(focalLength: number, stop: number, focusDistance: number): number {
  const s = focusDistance * 1000;
  return focalLength ** 2 / (2 * stop * Math.max(s - focalLength, focalLength));
}

/** Discs wider than this are drawn at half the size, px. */
const HALF_ABOVE = 12;
/**
 * Variance that a picture made half as large and doubled again gets by itself, its cells squared: of the two filters,
 * 5/16 each.
 */
const HALVING_VARIANCE = 5 / 8;
/**
 * A disc's variance along a direction is a quarter of its radius squared: the radius at half the size for one (px) at
 * full size.
 */
const halfRadius = (radius: number) => Math.sqrt(Math.max(0, (radius / 2) ** 2 - 4 * HALVING_VARIANCE));

/** Things nearer than half the focus distance have larger circles than those at infinity; up to this many times. */
const NEAR_LIMIT = 3;
/** Circles of these radii (px) fade from those drawn at full size to those at half of it. */
const FULL_TO = 8;
const HALF_FROM = 10;
/** Nothing is nearer than this, m. */
const NEAREST = 0.05;

/** How much of what was drawn at full size is seen, by distance: all of it where circles are small. */
const smallCircles = (far: number, focus: number): PointOperation => {
  const share = (z: number) => {
    const radius = (far * Math.abs(z - focus)) / Math.max(z, NEAREST);
    const t = clamp((HALF_FROM - radius) / (HALF_FROM - FULL_TO), 0, 1);
    return t * t * (3 - 2 * t);
  };
  return curvesOperation([share, share, share]);
};

/** Emits the distance of every second pixel: a mean of two would be where nothing is. */
function planHalfDepth(builder: PlanBuilder, depth: number): number {
  const half = builder.level(depth, true, true);
  const { width, height } = builder.size(depth);
  return planResize(builder, depth, half, everySecond(width), everySecond(height));
}

/** What a gathering by depth goes by, at any size of the picture. */
type ByDepth = Omit<PupilPlan, "radius" | "depth" | "black"> & { far: number; focus: number; largest: number };

/**
 * Emits circles of all widths: small ones drawn at full size, then wide ones at half of it, on a picture that has the
 * small ones. Its detail is given back where circles are small and nothing nearer covers it.
 */
function planWide(builder: PlanBuilder, input: number, depth: number, at: (part: number) => ByDepth): number {
  const { far, focus, ...full } = at(1);
  const { largest: halfLargest, far: halfFar, ...halfSize } = at(0.5);
  const sharp = planPupil(builder, input, {
    ...full,
    radius: HALF_FROM,
    depth: { buffer: depth, far, focus, larger: "left out", alpha: "picture" },
    black: false,
  });
  const isSmall = addProgram(builder, depth, builder.buffer(), [smallCircles(far, focus)]);
  const half = planHalve(builder, addProgram(builder, sharp, builder.buffer(), [blendOperation], input, isSmall));
  const wide = planPupil(builder, half, {
    ...halfSize,
    radius: Math.max(1, halfLargest),
    depth: {
      buffer: planHalfDepth(builder, depth),
      far: halfFar,
      focus,
      already: { variance: HALVING_VARIANCE, smallTo: FULL_TO / 2, wideFrom: HALF_FROM / 2 },
      larger: "held",
      alpha: "covered",
    },
    black: false,
  });
  const soft = planDouble(builder, wide, input);
  const low = planDouble(builder, half, input);
  const detail = addProgram(
    builder,
    sharp,
    builder.buffer(),
    [blendOperation, differenceOperation(1, false)],
    low,
    isSmall,
  );
  return addProgram(builder, soft, builder.buffer(), [layerOperation({ mode: "over", amount: 1 })], detail);
}

const parameters = {
  by: {
    type: "choice",
    label: "By",
    options: { depth: "Depth", highlights: "Highlights" },
    default: "depth",
    help: "Depth: every place by its distance. Highlights: keyed light becomes discs of one size.",
  },
  focus: {
    type: "number",
    relevantWith: { by: ["depth"] },
    label: "In focus",
    unit: "m",
    min: 0,
    max: 500,
    step: 0.1,
    default: 0,
    help: "Distance in focus; 0 takes the lens's own.",
  },
  size: {
    type: "number",
    relevantWith: { by: ["highlights"] },
    label: "Size of highlights",
    unit: "µm",
    min: 5,
    max: 1000,
    step: 5,
    default: 130,
    logarithmic: true,
    help: "Radius of the discs of keyed light on the sensor.",
  },
  most: {
    type: "number",
    label: "Largest",
    unit: "% of height",
    min: 0.2,
    max: 6,
    step: 0.1,
    default: 2.5,
    help: "Radius no circle of confusion exceeds.",
  },
  ...pupilParameters,
  ...keyParameters(3, { by: ["highlights"] }),
} as const satisfies Record<string, Parameter>;

/** Depth of field by the depth channel, or keyed highlights drawn as discs of the iris. */
export const defocus = define<Defocus>({
  kind: "defocus",
  label: "Defocus",
  station: "lens",
  drawing: { outline: "M20 5 C33 16 33 48 20 59 C7 48 7 16 20 5 Z", detail: "M14 32a6 6 0 1 0 12 0a6 6 0 1 0-12 0" },
  summary: "What is out of focus is seen through the pupil: discs of the iris, cut to cat's eyes towards the corners.",
  advice:
    "Look at small lights: their discs, their rims, how they lean around the axis. Overdone, the set becomes a model.",
  strengthLaw: "Multiplies the circle of confusion.",
  source:
    "The thin lens’s circle of confusion, f² (z − s) / (N z (s − f)); cat’s eyes by a second circle that clips the pupil.",
  passes: "blurs",
  parameters,
  key: ({ values }) => (values.by === "highlights" ? keyOf(values) : null),
  fromLens: ({ pupil }) =>
    pupil
      ? {
          blades: pupil.blades,
          roundness: pupil.roundness,
          ...(pupil.catEye ? { catEye: 100 * pupil.catEye.at(-1)! } : {}),
          ...(pupil.rim === undefined ? {} : { rim: pupil.rim }),
        }
      : {},
  usesDepth: ({ values }) => values.by === "depth",
  missing: ({ values }, { hasDepth }) =>
    values.by === "depth" && !hasDepth
      ? "The footage has no depth channel; choose highlights, or a depth plate beside the lens."
      : null,
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context: FrameContext) {
      const { geometry, focalLength, stop, focusDistance } = context;
      const { pitchX, pitchY, axisX, axisY, height } = geometry;
      const most = (values.most / 100) * height;
      const common = { pupil: pupilOf(values), aspect: pitchY / pitchX };
      const at = (part: number) => ({
        ...common,
        corner: (cornerHeight(geometry) / pitchY) * part,
        axisX: (axisX + 0.5) * part - 0.5,
        axisY: (axisY + 0.5) * part - 0.5,
      });
      if (values.by === "highlights") {
        const radius = Math.min(most, (values.size / 1000 / pitchY) * strength);
        const take: PointOperation = { code: "take", fields: keyFields(keyOf(values)) };
        const taken = addProgram(builder, input, builder.buffer(), [take]);
        const under = addProgram(builder, input, builder.buffer(), [differenceOperation(1, false)], taken);
        if (radius <= HALF_ABOVE) {
          const discs = planPupil(builder, taken, { ...at(1), radius, black: false });
          return addProgram(builder, under, builder.buffer(), [sumOperation], discs);
        }
        const half = planHalve(builder, input, { key: builder.table(keyRecord(keyOf(values))) });
        const discs = planPupil(builder, half, { ...at(0.5), radius: halfRadius(radius), black: false });
        return planLay(builder, under, discs, [1, 1, 1]);
      }
      const focus = values.focus > 0 ? values.focus : focusDistance;
      const far = (circleAtInfinity(focalLength, stop, focus) / pitchY) * strength;
      const radius = Math.min(most, Math.max(far, 0.5) * NEAR_LIMIT);
      const depth = planDepth(builder, context);
      if (radius > HALF_ABOVE)
        return planWide(builder, input, depth, (part) => ({
          ...at(part),
          far: far * part,
          focus,
          largest: halfRadius(radius),
        }));
      const own = { buffer: depth, far, focus, larger: "held", alpha: "picture" } as const;
      return planPupil(builder, input, { ...at(1), radius, depth: own, black: false });
    },
  },
  response({ strength, mix, values }, { focalLength, stop, focusDistance }) {
    const focus = values.focus > 0 ? values.focus : focusDistance;
    const distances = Array.from({ length: 80 }, (_, i) => 0.5 * 200 ** (i / 79));
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: distances,
      y: distances.map((z) =>
        values.by === "highlights"
          ? values.size * s
          : (1000 * circleAtInfinity(focalLength, stop, focus) * s * Math.abs(z - focus)) / z,
      ),
    });
    return {
      title: `Circle of confusion, ${focalLength} mm at T${stop}, focus ${focus} m`,
      x: { label: "Distance", unit: "m", logarithmic: true },
      y: { label: "Radius", unit: "µm" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
