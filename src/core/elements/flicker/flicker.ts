import { matrixOperation } from "../../engine/pointwise";
import { diagonal } from "../../maths/matrix";
import { smoothNoise, steppedNoise } from "../../maths/noise";
import { define, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

type Flicker = ValuesOf<typeof parameters>;

/** How much rarer the sparse kind's dips are. */
const SPARSE_POWER = 5;

/** Exposure of a frame, stops. */
export function flickerStops(
  { amplitude, rate, character, seed }: Flicker,
  strength: number,
  frame: number,
  frameRate: number,
): number {
  const cycle = (frame / frameRate) * rate;
  const noise =
    character === "stepped"
      ? steppedNoise(seed, cycle)
      : character === "smooth"
        ? smoothNoise(seed, cycle)
        : -(Math.abs(smoothNoise(seed, cycle)) ** SPARSE_POWER);
  return amplitude * strength * noise;
}

const parameters = {
  amplitude: {
    type: "number",
    label: "Amplitude",
    unit: "stops",
    min: 0,
    max: 2,
    step: 0.01,
    default: 0.12,
    help: "Largest change of exposure.",
  },
  rate: {
    type: "number",
    label: "Rate",
    unit: "Hz",
    min: 0.1,
    max: 60,
    step: 0.1,
    default: 12,
    logarithmic: true,
    help: "Changes a second.",
  },
  character: {
    type: "choice",
    label: "Character",
    options: { smooth: "Smooth", stepped: "Frame by frame", sparse: "Rare dips" },
    default: "smooth",
    help: "How it moves.",
  },
  seed: {
    type: "number",
    label: "Seed",
    unit: "",
    min: 0,
    max: 9999,
    step: 1,
    default: 1,
    help: "Another number is another run.",
  },
} as const satisfies Record<string, Parameter>;

export const flicker = define<Flicker>({
  kind: "flicker",
  label: "Flicker",
  station: "film",
  isTonal: true,
  drawing: { outline: "M13 4 H27 V60 H13 Z", detail: "M16 40L19 24L21 36L24 20" },
  summary: "Exposure that is not quite the same from frame to frame.",
  advice: "Play it. Overdone, it is the first thing anybody sees.",
  strengthLaw: "Multiplies the amplitude.",
  source: "Exposure noise of a given bandwidth, in stops.",
  passes: "grains",
  parameters,
  changesWithFrame: true,
  work: {
    kind: "point",
    program({ strength, values }, { frame, frameRate }: FrameContext) {
      const gain = 2 ** flickerStops(values, strength, frame, frameRate);
      return [matrixOperation(diagonal([gain, gain, gain]))];
    },
  },
  response({ strength, mix, values }, { frameRate, frame }) {
    const frames = Array.from({ length: 49 }, (_, i) => frame + i);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: frames,
      y: frames.map((f) => flickerStops(values, s, f, frameRate)),
    });
    return {
      title: "Exposure of the next frames",
      x: { label: "Frame", unit: "" },
      y: { label: "Exposure", unit: "stops" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
