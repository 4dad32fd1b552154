import type { FrameGeometry } from "../../frame/geometry";
import type { PlanBuilder } from "../../engine/plan";
import { addProgram, differenceOperation, matrixOperation } from "../../engine/pointwise";
import type { Matrix3 } from "../../maths/matrix";
import { planSplitChannels } from "../../spread/resample";
import { MIDDLES, type Spectrum, spectrumOf, type SpectrumShape } from "../../spread/spectrum";
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

/** Where a channel's light comes from along one side: place = scale x + offset, px. */
type Path = (channel: number) => { scale: number; offset: number };

/**
 * The copies of each channel, as assembly/apart.ts reads them: for every tap of the spectrum a place on the parabola
 * through red's, green's and blue's own. What bends it is less the taps' variance, so that the channels' centroids stay
 * as far apart as their places.
 */
function copiesOf({ variance, taps }: Spectrum, across: Path, down: Path): number[] {
  const onParabola = (path: Path, u: number): [number, number] => {
    const [red, green, blue] = MIDDLES.map(path) as [ReturnType<Path>, ReturnType<Path>, ReturnType<Path>];
    const bend = u * u - variance;
    const at = (r: number, g: number, b: number) => g + ((r + b) / 2 - g) * bend + ((r - b) / 2) * u;
    return [at(red.scale, green.scale, blue.scale), at(red.offset, green.offset, blue.offset)];
  };
  const copies = MIDDLES.flatMap((middle) =>
    taps.flatMap(({ offset, weight }) => [
      ...onParabola(across, middle + offset),
      ...onParabola(down, middle + offset),
      weight,
    ]),
  );
  return [taps.length, ...copies];
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
  const turned = splitHue ? addProgram(builder, glow, builder.buffer(), [matrixOperation(hueTurn(splitHue))]) : glow;
  const spectrum = spectrumOf(splitSteps, splitShape);
  const along = (axis: number, isMoved: boolean) => (channel: number) => {
    if (split !== "radial") return { scale: 1, offset: isMoved ? -channel * amount : 0 };
    const scale = 1 / (1 + (channel * amount) / (height / 2));
    return { scale, offset: axis * (1 - scale) };
  };
  const copies = copiesOf(spectrum, along(axisX, split === "across"), along(axisY, split === "down"));
  const size = builder.size(turned);
  const apart = builder.add("drawApart", {
    source: turned,
    planes: planSplitChannels(builder, turned, false),
    out: builder.level(turned),
    width: size.width,
    height: size.height,
    copies: builder.floats(copies),
  });
  const back = [
    ...(splitHue ? [matrixOperation(hueTurn(-splitHue))] : []),
    ...(splitSaturation < 1 ? [differenceOperation(splitSaturation, true)] : []),
  ];
  return back.length ? addProgram(builder, apart, builder.buffer(), back, glow) : apart;
}
