import {
  addProgram,
  matrixOperation,
  type PointOperation,
  productOperation,
  sumOperation,
  clearOperation,
} from "../../engine/pointwise";
import type { PlanBuilder } from "../../engine/plan";
import type { FrameContext } from "../../frame/context";
import { planGaussian } from "../../spread/gaussian";
import type { Parameter, ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";

export type Haze = ValuesOf<typeof hazeParameters>;

const group = "Haze";

/** The tone of the light parts, spread and laid back as a veil. */
export const hazeParameters = {
  haze: {
    type: "number",
    group,
    label: "Haze",
    unit: "%",
    min: 0,
    max: 100,
    step: 0.5,
    default: 0,
    help: "How much of the light parts’ tone is laid back over the picture.",
  },
  hazeReach: {
    type: "number",
    group,
    label: "Haze reach",
    unit: "% of height",
    min: 0.5,
    max: 60,
    step: 0.5,
    default: 12,
    help: "How far the light parts are spread: the standard deviation.",
  },
  redGreen: {
    type: "number",
    group,
    label: "Red to green",
    unit: "",
    min: -1,
    max: 1,
    step: 0.01,
    default: 0,
    help: "Bias of the haze: below 0 redder, above greener; its luminance stays.",
  },
  blueYellow: {
    type: "number",
    group,
    label: "Blue to yellow",
    unit: "",
    min: -1,
    max: 1,
    step: 0.01,
    default: 0,
    help: "Bias of the haze: below 0 bluer, above yellower; its luminance stays.",
  },
  hazeX: {
    type: "number",
    group,
    label: "Haze across",
    unit: "% of width",
    min: -100,
    max: 100,
    step: 0.5,
    default: 0,
    help: "The point that distance is counted from, from the frame’s centre.",
  },
  hazeY: {
    type: "number",
    group,
    label: "Haze down",
    unit: "% of height",
    min: -100,
    max: 100,
    step: 0.5,
    default: 0,
    help: "The point that distance is counted from, from the frame’s centre.",
  },
  hazeRadius: {
    type: "number",
    group,
    label: "Haze up to",
    unit: "% of height",
    min: 0,
    max: 300,
    step: 1,
    default: 0,
    help: "Distance from the point at which the haze has ended; 0: everywhere.",
  },
  ...keyParameters(0),
} as const satisfies Record<string, Parameter>;

/** The haze is full within this share of its radius. */
const FULL_WITHIN = 0.25;
/** Power of the superellipse that is a circle. */
const CIRCLE = 2;

/**
 * Where the haze lies, as a matte in every lane: full round its point, none from its radius on. Null for everywhere.
 */
export function hazeMatte({ hazeX, hazeY, hazeRadius }: Haze, { geometry }: FrameContext): PointOperation[] | null {
  if (hazeRadius <= 0) return null;
  const { width, height, axisX, axisY } = geometry;
  const full = ((FULL_WITHIN * hazeRadius) / 100) * height;
  const [x, y] = [axisX + (hazeX / 100) * width, axisY + (hazeY / 100) * height];
  const circle = {
    ...{ centreX: x, centreY: y },
    ...{ acrossX: 1 / full, acrossY: 0, downX: 0, downY: 1 / full },
    ...{ power: CIRCLE, outer: 1 / FULL_WITHIN },
  };
  return [
    clearOperation,
    { code: "shapeMatte", fields: { combine: "union", inverted: false, strength: 1, ...circle } },
  ];
}

/** The haze's bias as a colour of luminance 1. `luminance`: of working light. */
export function hazeColour(
  { redGreen, blueYellow }: Pick<Haze, "redGreen" | "blueYellow">,
  luminance: readonly [number, number, number],
): [number, number, number] {
  const raw = [2 ** (-redGreen + blueYellow / 2), 2 ** (redGreen + blueYellow / 2), 2 ** -blueYellow] as const;
  const sum = raw.reduce((total, value, c) => total + value * luminance[c]!, 0);
  return raw.map((value) => value / sum) as [number, number, number];
}

/** Emits the picture with its haze; `amount`: the share of the light parts' tone that is laid back. */
export function planHaze(
  builder: PlanBuilder,
  input: number,
  values: Haze,
  amount: number,
  context: FrameContext,
  luminance: readonly [number, number, number],
): number {
  const sigma = (values.hazeReach / 100) * context.geometry.height;
  const spread = planGaussian(builder, input, sigma, sigma, { key: builder.table(keyRecord(keyOf(values))) });
  const [r, g, b] = hazeColour(values, luminance).map((value) => value * amount) as [number, number, number];
  const tinted = matrixOperation([r, 0, 0, 0, g, 0, 0, 0, b]);
  const matte = hazeMatte(values, context);
  const laid = matte
    ? addProgram(
        builder,
        spread,
        builder.buffer(),
        [tinted, productOperation],
        addProgram(builder, input, builder.buffer(), matte),
      )
    : addProgram(builder, spread, builder.buffer(), [tinted]);
  return addProgram(builder, input, builder.buffer(), [sumOperation], laid);
}
