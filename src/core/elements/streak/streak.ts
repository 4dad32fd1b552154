import { layOverParameter } from "../lay-over";
import { planRollOff, rollOffParameter } from "../roll-off";
import { blurTaps } from "../../spread/bank";
import { MAX_VARIANCE } from "../../spread/gaussian";
import { planLines } from "../../spread/lines";
import type { Colour } from "../../spread/plan";
import { planBlur, planGather, planReduce } from "../../engine/operations";
import type { PlanBuilder } from "../../engine/plan";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import { surroundParameter } from "../surround";
import { keyOf, keyParameters, keyRecord } from "../key";
import type { FrameContext } from "../../frame/context";

type Streak = ValuesOf<typeof parameters>;

/** The long tail is a second exponential this many times as long as the first. */
const TAIL_RATIO = 4;
/** Rows are smeared at a quarter of the width: two halvings. */
const HALVINGS = 2;
/** Run-in of the smear outside the frame, in e-folding lengths. */
const LEAD_LENGTHS = 6;

/** Unit-area profile along the line at a distance in e-folding lengths, with the colours of core and tail. */
export const streakProfile = (distance: number, tail: number, core = 1, far = 1) =>
  core * (1 - tail) * 0.5 * Math.exp(-distance) + (far * tail * 0.5 * Math.exp(-distance / TAIL_RATIO)) / TAIL_RATIO;

function smear(builder: PlanBuilder, source: number, length: Colour, cell: number, black: boolean): number {
  const { width, height } = builder.size(source);
  const out = builder.level(source);
  const decay = [...length.map((px) => Math.exp(-cell / Math.max(px, 1e-3))), 0];
  const lead = Math.min(width, Math.ceil((LEAD_LENGTHS * Math.max(...length)) / cell));
  return builder.add("smearRows", { source, out, width, height, decay: builder.floats(decay), lead, black });
}

/** Standard deviation, in cells, above which a line is blurred a level lower. */
const MIN_AT_LEVEL = 1.05;

/** Blurs columns to a standard deviation of `sigma` cells, in as few passes as the taps allow. */
function thicken(builder: PlanBuilder, source: number, variance: number, black: boolean): number {
  const passes = Math.max(1, Math.ceil(variance / MAX_VARIANCE));
  const taps = blurTaps(variance / passes);
  let image = source;
  for (let i = 0; i < passes; i++) image = planBlur(builder, image, { x: [1], y: taps }, { black }, { x: 0, y: 4 });
  return image;
}

/** Lines that are turned, or more than one of them. Outside the frame they take no light. */
function planTurned(
  builder: PlanBuilder,
  input: number,
  strength: number,
  values: Streak,
  { geometry }: FrameContext,
): number {
  const gain = ((values.gain / 100) * strength) / values.count;
  const strand = (share: number, tint: Colour, ratio: number) => ({
    length: values.length.map((percent) => (percent / 100) * geometry.width * ratio) as unknown as Colour,
    weight: tint.map((t) => t * share * gain) as unknown as Colour,
  });
  return planLines(builder, input, {
    lines: Array.from({ length: values.count }, (_, i) => ({
      angle: values.angle + (180 * i) / values.count,
      oneWay: false,
    })),
    strands: [
      strand(1 - values.tail, values.tint, 1),
      ...(values.tail > 0 ? [strand(values.tail, values.tintTail, TAIL_RATIO)] : []),
    ],
    thickness: (values.thickness / 100) * geometry.height,
    key: builder.table(keyRecord(keyOf(values))),
  });
}

/** One line along the rows. */
function planAlong(
  builder: PlanBuilder,
  input: number,
  strength: number,
  values: Streak,
  { geometry }: FrameContext,
): number {
  const black = values.surround === "black";
  const sigma = (values.thickness / 100) * geometry.height;
  // Thick lines are blurred at lower levels, where one pass does: the variance left there stays between a third and
  // about three cells.
  const down = Math.max(0, Math.floor(Math.log2(Math.max(sigma, 1e-3) / MIN_AT_LEVEL)));
  let image = input;
  const levels = [input];
  for (let k = 0; k < Math.max(HALVINGS, down); k++) {
    const key = k ? null : builder.table(keyRecord(keyOf(values)));
    image = planReduce(builder, image, { x: k < HALVINGS, y: k < down }, { black, key });
    levels.push(image);
  }
  const own = (5 / 6) * (1 - 4 ** -down);
  const variance = sigma ** 2 / 4 ** down - own;
  if (variance > 0.05) image = thicken(builder, image, variance, black);
  const cell = 2 ** HALVINGS;
  const length = values.length.map((percent) => (percent / 100) * geometry.width) as unknown as Colour;
  const core = smear(builder, image, length, cell, black);
  const tail =
    values.tail > 0
      ? smear(builder, image, length.map((px) => px * TAIL_RATIO) as unknown as Colour, cell, black)
      : null;
  const gain = (values.gain / 100) * strength;
  const weights = (share: number, tint: Colour) => tint.map((t) => t * share * gain);
  let coarse: number | null = null;
  for (let k = Math.max(HALVINGS, down); k >= 0; k--) {
    const doubled = { doubleX: k < HALVINGS, doubleY: k < down, weight: [1, 1, 1] };
    const top: boolean = coarse === null;
    coarse = planGather(builder, {
      like: levels[k]!,
      coarse: coarse === null ? null : { buffer: coarse, ...doubled },
      planes: [
        { buffer: top ? core : null, weight: weights(1 - values.tail, values.tint) },
        { buffer: top ? tail : null, weight: weights(values.tail, values.tintTail) },
      ],
      under: { buffer: k === 0 ? input : null, weight: [1, 1, 1] },
    });
  }
  return coarse!;
}

const parameters = {
  ...keyParameters(4),
  length: {
    type: "triple",
    label: "Length R, G, B",
    unit: "% of width",
    min: 0.2,
    max: 100,
    step: 0.1,
    default: [6, 8, 12],
    help: "Distance over which the line falls to 37 %.",
  },
  tail: {
    type: "number",
    label: "Tail",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.35,
    help: "How much of the light goes into a tail four times as long.",
  },
  thickness: {
    type: "number",
    label: "Thickness",
    unit: "% of height",
    min: 0.02,
    max: 3,
    step: 0.01,
    default: 0.12,
    logarithmic: true,
    help: "Standard deviation across the line.",
  },
  gain: {
    type: "number",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 200,
    step: 1,
    default: 12,
    help: "Light of the line over the keyed light, at strength 1.",
  },
  tint: { type: "colour", label: "Tint", default: [0.55, 0.8, 1.6], help: "Colour of the line; coatings make it." },
  tintTail: {
    type: "colour",
    label: "Tint of the tail",
    default: [0.55, 0.8, 1.6],
    help: "Colour far from the source.",
  },
  angle: {
    type: "number",
    label: "Angle",
    unit: "°",
    min: -90,
    max: 90,
    step: 0.5,
    default: 0,
    help: "Clockwise from the horizontal, as the cylinder is turned.",
  },
  count: {
    type: "number",
    label: "Lines",
    unit: "",
    min: 1,
    max: 8,
    step: 1,
    default: 1,
    help: "Lines through each source, evenly turned; they share the light.",
  },
  surround: surroundParameter("black"),
  rollOff: rollOffParameter("Roll-off"),
  lay: layOverParameter("the line"),
} as const satisfies Record<string, Parameter>;

export const streak = define<Streak>({
  kind: "streak",
  label: "Streak",
  station: "lens",
  drawing: { outline: "M13 6 C20 6 20 58 13 58 L27 58 C27 58 27 6 27 6 Z", detail: "M4 32H36" },
  check: { name: "streak", without: { surround: "black" } },
  summary: "Cylindrical glass draws a line of light through each bright source.",
  advice: "See the matte: only lamps should be in it. Overdone, every window draws a line.",
  strengthLaw: "Multiplies the light of the line.",
  source:
    "Light of a cylindrical front group spreads in one direction: two exponentials along the line, fitted to the profile.",
  passes: "scatters",
  parameters,
  handles: [{ kind: "angle", label: "Angle of the streak", angle: "angle", plane: "frame" }],
  key: ({ values }) => keyOf(values),
  fromLens: ({ streak }) =>
    streak
      ? {
          length: streak.length,
          tail: streak.tail,
          thickness: streak.thickness,
          gain: streak.gain,
          tint: streak.tint,
          tintTail: streak.tint,
        }
      : {},
  work: {
    kind: "buffers",
    plan: (builder, input, { strength, values }, context) => {
      const lines = values.angle || values.count > 1 ? planTurned : planAlong;
      const added = (amount: number) => lines(builder, input, amount, values, context);
      return planRollOff(builder, input, strength, added, values.rollOff, values.lay);
    },
  },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 61 }, (_, i) => i * 0.8);
    const trace = (kind: Trace["kind"], gain: number): Trace[] =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances,
        y: distances.map(
          (d) =>
            (gain * streakProfile(d / values.length[c]!, values.tail, values.tint[c]!, values.tintTail[c]!)) /
            values.length[c]!,
        ),
      }));
    return {
      title: "Light along the line",
      x: { label: "Distance from the source", unit: "% of frame width" },
      y: { label: "Light", unit: "per % of width", logarithmic: true },
      traces: [...trace("measured", values.gain / 100), ...trace("applied", (values.gain / 100) * strength * mix)],
    };
  },
});
