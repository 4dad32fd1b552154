import type { FrameGeometry } from "../../frame/geometry";
import type { PlanBuilder } from "../../engine/plan";
import { addProgram, differenceOperation, matrixOperation } from "../../engine/pointwise";
import type { Matrix3 } from "../../maths/matrix";
import { planResample, type SpectrumShape } from "../../spread/resample";
import type { Parameter } from "../definition";

/** Chromatic split: the glow's colours drawn apart, along a line or away from the axis. */
export interface Split {
  split: "none" | "across" | "down" | "radial";
  splitAmount: number;
  splitSteps: number;
  splitShape: SpectrumShape;
  splitHue: number;
  splitSaturation: number;
}

const GROUP = "Chromatic split";
const ANY_SPLIT = { split: ["across", "down", "radial"] };

export const splitParameters = {
  split: {
    type: "choice",
    group: GROUP,
    label: "Split",
    options: { none: "None", across: "Across", down: "Down", radial: "From the axis" },
    default: "none",
    help: "Draws the glow's colours apart.",
  },
  splitAmount: {
    type: "number",
    group: GROUP,
    relevantWith: ANY_SPLIT,
    label: "Amount",
    unit: "% of height",
    min: -10,
    max: 10,
    step: 0.05,
    default: 0.5,
    help: "Distance of red from green, and of green from blue; from the axis, at half the frame's height.",
  },
  splitSteps: {
    type: "number",
    group: GROUP,
    relevantWith: ANY_SPLIT,
    label: "Steps",
    unit: "",
    min: 3,
    max: 16,
    step: 1,
    default: 11,
    help: "Samples from end to end of the spectrum.",
  },
  splitShape: {
    type: "choice",
    group: GROUP,
    relevantWith: ANY_SPLIT,
    label: "Weights",
    options: { even: "Even", linear: "Linear", smooth: "Smooth" },
    default: "smooth",
    help: "How each channel takes its part of the spectrum.",
  },
  splitHue: {
    type: "number",
    group: GROUP,
    relevantWith: ANY_SPLIT,
    label: "Hue offset",
    unit: "°",
    min: -180,
    max: 180,
    step: 1,
    default: 0,
    help: "Turns the fringe's colours about the wheel.",
  },
  splitSaturation: {
    type: "number",
    group: GROUP,
    relevantWith: ANY_SPLIT,
    label: "Fringe saturation",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 1,
    help: "How much of the split is kept.",
  },
} satisfies Record<keyof Split, Parameter>;

/** Turns colours about the axis of greys by an angle (degrees); R + G + B is kept. */
function hueTurn(degrees: number): Matrix3 {
  const turn = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn) / Math.sqrt(3)];
  const same = (1 + 2 * c) / 3;
  const [next, before] = [(1 - c) / 3 - s, (1 - c) / 3 + s];
  return [same, next, before, before, same, next, next, before, same];
}

/** Emits the split of a glow's light; returns the result's buffer. */
export function planSplit(
  builder: PlanBuilder,
  glow: number,
  strength: number,
  { split, splitAmount, splitSteps, splitShape, splitHue, splitSaturation }: Split,
  { axisX, axisY, height }: FrameGeometry,
): number {
  const amount = (splitAmount / 100) * height * strength;
  if (split === "none" || amount === 0 || splitSaturation === 0) return glow;
  const place = (x: number, y: number, channel: number): [number, number] => {
    if (split === "across") return [x - channel * amount, y];
    if (split === "down") return [x, y - channel * amount];
    const scale = 1 / (1 + (channel * amount) / (height / 2));
    return [axisX + (x - axisX) * scale, axisY + (y - axisY) * scale];
  };
  const turned = splitHue ? addProgram(builder, glow, builder.buffer(), [matrixOperation(hueTurn(splitHue))]) : glow;
  const apart = planResample(builder, turned, { place, black: false, samples: splitSteps, shape: splitShape });
  const back = [
    ...(splitHue ? [matrixOperation(hueTurn(-splitHue))] : []),
    ...(splitSaturation < 1 ? [differenceOperation(splitSaturation, true)] : []),
  ];
  return back.length ? addProgram(builder, apart, builder.buffer(), back, glow) : apart;
}
