import { fitGains, type Gains, transferOf } from "../../contrast/fit";
import { pixelShape } from "../../contrast/bank";
import { planContrast } from "../../contrast/plan";
import { gainTable, type HeightTables } from "../../contrast/tables";
import { monotoneCubic } from "../../maths/interpolate";
import { NOTHING, memoised } from "../../maths/memoise";
import { cornerHeight } from "../../frame/geometry";
import { type ContrastDirection, contrastOf } from "../../profile/lens";
import { define, type Parameter, type Trace, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

/** Frequencies at which contrast is edited directly, lp/mm. */
const EDITED = [10, 20, 30, 40, 60, 90] as const;
type Contrasts = Record<`contrast${(typeof EDITED)[number]}`, number>;
export type Sharpness = ValuesOf<typeof parameters>;

/** Contrast below this has nothing left to be brought back. */
const MIN_CONTRAST = 1e-3;

/** The lens's contrast at a frequency (lp/mm) and height (mm), times what was edited; 1 everywhere without a table. */
export function profileContrast(
  values: Sharpness,
  { lens, focalLength, stop }: FrameContext,
): (direction: ContrastDirection) => (frequency: number, height: number) => number {
  const edited = monotoneCubic([0, ...EDITED], [1, ...EDITED.map((f) => values[`contrast${f}`] / 100)]);
  return (direction) => {
    const measured = (lens && contrastOf(lens, focalLength, stop, direction)) ?? (() => 1);
    return (frequency, height) => measured(frequency, height) * edited(frequency);
  };
}

/**
 * What a contrast becomes at a strength: its power, limited where the power is negative and would raise it without end.
 */
export const applied = (contrast: number, strength: number, maxGain: number) =>
  Math.min(Math.max(contrast, MIN_CONTRAST) ** strength, maxGain);

function gainsFor(strength: number, values: Sharpness, context: FrameContext): (height: number) => Gains {
  const contrast = profileContrast(values, context);
  const [meridional, sagittal] = [contrast("meridional"), contrast("sagittal")];
  const shape = pixelShape(context.geometry);
  // lp/mm are cycles/px over the pitch.
  const target = (contrastAt: typeof meridional, height: number) => (f: number) =>
    applied(contrastAt(f / shape.unit, height), strength, values.maxGain);
  return (height) => fitGains(target(meridional, height), target(sagittal, height), shape);
}

/** Fitting a table of gains takes as long as a frame, and every frame of a shot asks for the same. */
const tables = memoised<HeightTables>(16);
const tableFor = (strength: number, values: Sharpness, context: FrameContext) => {
  const { lens, focalLength, stop, geometry } = context;
  return tables(lens ?? NOTHING, JSON.stringify([strength, values, focalLength, stop, geometry]), () =>
    gainTable(geometry, gainsFor(strength, values, context)),
  );
};

const editedParameters = Object.fromEntries(
  EDITED.map((f) => [
    `contrast${f}`,
    {
      type: "number",
      label: `At ${f} lp/mm`,
      unit: "% of measured",
      min: 5,
      max: 250,
      step: 1,
      default: 100,
      help: `Contrast at ${f} line pairs a millimetre, against what the lens was measured to have.`,
    } satisfies Parameter,
  ]),
) as Record<keyof Contrasts, Extract<Parameter, { type: "number" }>>;

const parameters = {
  ...editedParameters,
  maxGain: {
    type: "number",
    label: "Most gain",
    unit: "×",
    min: 1,
    max: 10,
    step: 0.1,
    default: 3,
    help: "Limit of what a negative strength brings back.",
  },
} as const satisfies Record<string, Parameter>;

/** Words on contrast that is set where the frame has no detail any more, or none. */
function beyondFrame(values: Sharpness, { geometry: { pitchX, pitchY } }: FrameContext): string[] {
  const highest = 0.5 / Math.min(pitchX, pitchY);
  const beyond = EDITED.filter((f) => f > highest && values[`contrast${f}`] !== 100);
  return beyond.length
    ? [`This frame holds up to ${highest.toFixed(0)} lp/mm: what is set at ${beyond.join(" and ")} does nothing in it.`]
    : [];
}

/** MTF^s by image height, sagittal and meridional apart. */
export const sharpness = define<Sharpness>({
  kind: "sharpness",
  label: "Sharpness",
  station: "lens",
  drawing: { outline: "M13 5 C27 15 27 49 13 59 H19 C33 49 33 15 19 5 Z", detail: "M28 24V40M31 26V38M34 28V36" },
  reads: ["focalLength", "stop", "height"],
  check: { name: "contrast" },
  summary: "The lens's contrast by frequency, from the axis to the corners, along the radius and across it.",
  advice:
    "Zoom in on skin, cloth and leaves, in the corners too, and go on and off. Overdone, the picture looks out of focus rather than old.",
  strengthLaw: "An exponent of the measured contrast: 2 is two such lenses, −1 brings back what one took.",
  negative: true,
  source: "Contrast by frequency, height and direction, as ISO 12233 reads it from an edge; strength is a power of it.",
  passes: "blurs",
  parameters,
  cautions: ({ values }, context) => beyondFrame(values, context),
  missing: ({ values }, { lens }) =>
    lens?.mtf?.length || EDITED.some((f) => values[`contrast${f}`] !== 100)
      ? null
      : "The lens profile has no contrast table.",
  work: {
    kind: "buffers",
    plan: (builder, input, { strength, values }, context) =>
      planContrast(builder, input, context.geometry, tableFor(strength, values, context)),
  },
  response({ strength, mix, values }, context) {
    const shape = pixelShape(context.geometry);
    const corner = cornerHeight(context.geometry);
    const nyquist = 0.5 / shape.unit;
    const frequencies = Array.from({ length: 46 }, (_, i) => (i * 0.98 * nyquist) / 45);
    const contrast = profileContrast(values, context);
    // Along the finer of the frame's directions.
    const along = shape.x >= shape.y ? 0 : Math.PI / 2;
    const samples = [
      ["axis", 0, "grey"],
      ["half field", corner / 2, "green"],
      ["corner", corner, "blue"],
    ] as const;
    const traces = samples.flatMap(([label, height, colour]) => {
      const gains = gainsFor(strength, values, context)(height);
      return [
        {
          name: `${label}, measured`,
          colour,
          kind: "measured",
          x: frequencies,
          y: frequencies.map((f) => 100 * contrast("meridional")(f, height)),
        } satisfies Trace,
        {
          name: `${label}, applied`,
          colour,
          kind: "applied",
          x: frequencies,
          y: frequencies.map(
            (f) => 100 * (1 - mix + mix * transferOf(gains, f * shape.unit, "meridional", along, shape)),
          ),
        } satisfies Trace,
      ];
    });
    return {
      title: `Contrast along the radius at T${context.stop}: axis grey, half field green, corner blue`,
      x: { label: "Frequency", unit: "lp/mm" },
      y: { label: "Contrast", unit: "%" },
      traces,
      grips: EDITED.filter((f) => f < nyquist).map((f) => {
        const own = contrast("meridional")(f, 0) / (values[`contrast${f}`] / 100);
        return {
          label: `Contrast at ${f} lp/mm`,
          x: f,
          y: 100 * contrast("meridional")(f, 0),
          set: (_: number, y: number) => ({ [`contrast${f}`]: y / Math.max(own, MIN_CONTRAST) }),
        };
      }),
      note: `This frame holds up to ${nyquist.toFixed(0)} lp/mm; what lies above cannot act on it.`,
    };
  },
});
