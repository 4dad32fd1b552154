import { cornerHeight } from "../../frame/geometry";
import { planGather, planResize } from "../../engine/operations";
import type { PlanBuilder } from "../../engine/plan";
import { scaledTaps } from "../../maths/taps";
import { planDouble, planHalve, planLay } from "../../spread/gaussian";
import type { Colour } from "../../spread/plan";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";
import { planPupil, pupilOf, pupilParameters } from "../pupil";
import type { FrameContext } from "../../frame/context";
import { axisHandle, axisOf, axisParameters } from "../axis";

type Ghosts = ValuesOf<typeof parameters>;

interface Ghost {
  factor: number;
  gain: number;
  /** µm on the sensor. */
  defocus: number;
  tint: Colour;
}

/** Factors nearer to nothing than this would gather the whole frame in one place. */
const MIN_FACTOR = 0.08;
const heldFactor = (factor: number) =>
  Math.abs(factor) >= MIN_FACTOR ? factor : factor < 0 ? -MIN_FACTOR : MIN_FACTOR;
/** Ghosts are drawn at a quarter of the size. */
const PART = 0.25;

/** A frame scaled about the axis by a factor, turned over where it is below 0. */
function planScaled(builder: PlanBuilder, input: number, factor: number, axisX: number, axisY: number): number {
  const { width, height } = builder.size(input);
  const across = scaledTaps(width, factor, axisX);
  return planResize(builder, input, builder.level(input), across, scaledTaps(height, factor, axisY));
}

const ghostsOf = ({ lens }: FrameContext): Ghost[] => (lens?.ghosts ?? []) as Ghost[];

const parameters = {
  gain: {
    type: "number",
    label: "Gain",
    unit: "% of measured",
    min: 0,
    max: 1000,
    step: 1,
    default: 100,
    help: "Light of the ghosts against what was measured.",
  },
  spacing: {
    type: "number",
    label: "Spacing",
    unit: "% of measured",
    min: 20,
    max: 300,
    step: 1,
    default: 100,
    help: "Distance of the ghosts from the axis, against what was measured.",
  },
  ...axisParameters,
  ...pupilParameters,
  ...keyParameters(5),
} as const satisfies Record<string, Parameter>;

/** Reflections between the lens's surfaces: each a copy of the bright light, scaled about the axis, out of focus. */
export const ghosts = define<Ghosts>({
  kind: "ghosts",
  label: "Ghosts",
  station: "lens",
  drawing: {
    outline: "M10 7 C20 18 20 46 10 57 H16 C26 46 26 18 16 7 Z M24 10 C32 20 32 44 24 54 H29 C37 44 37 20 29 10 Z",
  },
  summary: "Light reflected between surfaces of the lens comes back as discs along the line through the axis.",
  advice: "Move a lamp across the frame: they must cross with it. Overdone, they tell a story of their own.",
  strengthLaw: "Multiplies the light of every ghost.",
  source:
    "Images of the keyed light mirrored and scaled about the axis, drawn with the iris; factors and gains are the profile’s.",
  passes: "mirrors",
  parameters,
  handles: [axisHandle],
  key: ({ values }) => keyOf(values),
  fromLens: ({ pupil }) => (pupil ? { blades: pupil.blades, roundness: pupil.roundness } : {}),
  missing: (_, context) => (ghostsOf(context).length ? null : "The lens profile has no ghosts."),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context) {
      const { geometry } = context;
      const half = planHalve(builder, input, { key: builder.table(keyRecord(keyOf(values))), black: true });
      const quarter = planHalve(builder, half, { black: true });
      const axis = axisOf(values, geometry);
      const [axisX, axisY] = [(axis.axisX + 0.5) * PART - 0.5, (axis.axisY + 0.5) * PART - 0.5];
      const corner = (cornerHeight(geometry) / geometry.pitchY) * PART;
      let sum: number | null = null;
      for (const { factor, gain, defocus, tint } of ghostsOf(context)) {
        const own = heldFactor(factor * (values.spacing / 100));
        const scaled = planScaled(builder, quarter, own, axisX, axisY);
        const radius = Math.max(0.7, (defocus / 1000 / geometry.pitchY) * PART);
        const discs = planPupil(builder, scaled, {
          pupil: pupilOf(values),
          radius,
          corner,
          axisX,
          axisY,
          aspect: geometry.pitchY / geometry.pitchX,
          black: true,
        });
        // A copy keeps the light of a pixel; a smaller one is lit the more, so that the gain says how much of all the
        // light comes back.
        const weight = tint.map((t) => (t * gain * values.gain * strength) / 1e4 / own ** 2);
        sum = planGather(builder, {
          like: quarter,
          planes: [
            { buffer: discs, weight },
            { buffer: sum, weight: [1, 1, 1] },
          ],
        });
      }
      return sum === null ? input : planLay(builder, input, planDouble(builder, sum, half), [1, 1, 1]);
    },
  },
  response({ strength, mix, values }, context) {
    const list = ghostsOf(context);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: list.flatMap(({ factor }) => [
        factor * (values.spacing / 100),
        factor * (values.spacing / 100),
        factor * (values.spacing / 100),
      ]),
      y: list.flatMap(({ gain }) => [0, (gain * values.gain * s) / 100, 0]),
    });
    return {
      title: "Ghosts along the line through the axis",
      x: { label: "Place, against the source's", unit: "× its distance from the axis" },
      y: { label: "Light", unit: "% of keyed light" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
