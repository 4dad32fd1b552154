import { cornerHeight } from "../../frame/geometry";
import { addProgram, curvesOperation } from "../../engine/pointwise";
import { planDouble, planHalve, planLay } from "../../spread/gaussian";
import { planDepth } from "../depth";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";
import { planPupil, pupilOf, pupilParameters } from "../pupil";
import type { FrameContext } from "../../frame/context";

type Defocus = ValuesOf<typeof parameters>;

/** Radius of the circle of confusion at infinity, mm on the sensor: f² / (2 N (s − f)). */
export function circleAtInfinity(focalLength: number, stop: number, focusDistance: number): number {
  const s = focusDistance * 1000;
  return focalLength ** 2 / (2 * stop * Math.max(s - focalLength, focalLength));
}

/** Discs wider than this are drawn at half the size, px. */
const HALF_ABOVE = 7;

/** Things nearer than half the focus distance have larger circles than those at infinity; up to this many times. */
const NEAR_LIMIT = 3;
/** Circles between these radii (px) fade from the sharp picture to the blurred one. */
const SHARP_TO = 0.6;
const BLURRED_FROM = 1.8;

/** How much of the blurred picture is seen, by distance. */
const circleMatte = (far: number, focus: number) => {
  const share = (z: number) => {
    const t = Math.min(
      1,
      Math.max(0, ((far * Math.abs(z - focus)) / Math.max(z, 0.05) - SHARP_TO) / (BLURRED_FROM - SHARP_TO)),
    );
    return t * t * (3 - 2 * t);
  };
  return curvesOperation([share, share, share]);
};

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
      const common = {
        pupil: pupilOf(values),
        corner: cornerHeight(geometry) / pitchY,
        axisX,
        axisY,
        aspect: pitchY / pitchX,
      };
      const at = (part: number) => ({
        ...common,
        corner: common.corner * part,
        axisX: (axisX + 0.5) * part - 0.5,
        axisY: (axisY + 0.5) * part - 0.5,
      });
      if (values.by === "highlights") {
        const radius = Math.min(most, (values.size / 1000 / pitchY) * strength);
        const key = builder.floats(keyRecord(keyOf(values)));
        const wide = radius > HALF_ABOVE;
        const taken = addProgram(builder, input, builder.buffer(), [
          { code: "take", floats: keyRecord(keyOf(values)) },
        ]);
        const under = addProgram(builder, input, builder.buffer(), [{ code: "difference", floats: [1, 0] }], taken);
        const discs = wide
          ? planPupil(builder, planHalve(builder, input, { key }), { ...at(0.5), radius: radius / 2, black: false })
          : planHalve(builder, planPupil(builder, taken, { ...at(1), radius, black: false }));
        return planLay(builder, under, discs, [1, 1, 1]);
      }
      const focus = values.focus > 0 ? values.focus : focusDistance;
      const far = (circleAtInfinity(focalLength, stop, focus) / pitchY) * strength;
      const radius = Math.min(most, Math.max(far, 0.5) * NEAR_LIMIT);
      const depth = planDepth(builder, context);
      if (radius <= HALF_ABOVE)
        return planPupil(builder, input, { ...at(1), radius, depth: { buffer: depth, far, focus }, black: false });
      // Wide circles at half the size; where the circle is small the full picture stays.
      const half = planPupil(builder, planHalve(builder, input), {
        ...at(0.5),
        radius: radius / 2,
        depth: { buffer: planHalve(builder, depth), far: far / 2, focus },
        black: false,
      });
      const soft = planDouble(builder, half, input);
      const matte = addProgram(builder, depth, builder.buffer(), [circleMatte(far, focus)]);
      return addProgram(builder, soft, builder.buffer(), [{ code: "blend", floats: [0] }], input, matte);
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
