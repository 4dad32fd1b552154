import { frameSeed } from "../../maths/noise";
import type { PointOperation } from "../../engine/pointwise";
import { define, type ElementState, type Trace } from "../definition";
import type { FrameContext } from "../../frame/context";
import { GRAIN_MAX_RADIUS } from "../../engine/records";
import { type Grain, HIGHLIGHT_AT, parameters, SHADOW_AT } from "./parameters";
import { filterTaps, pixelSigma, rmsAt } from "./granularity";

function program({ strength, values }: ElementState<Grain>, { geometry, frame }: FrameContext): PointOperation[] {
  const pitch = geometry.pitchY;
  const half = filterTaps(values, pitch);
  const sigma = (rms: number) => pixelSigma(rms, values, pitch) * strength;
  return [
    {
      code: "grain",
      fields: {
        seed: frameSeed(values.seed, frame),
        radius: half.length - 1,
        common: Math.sqrt(values.correlation),
        own: Math.sqrt(1 - values.correlation),
        layers: values.layers,
        shadow: sigma(values.shadow),
        middle: sigma(values.middle),
        highlight: sigma(values.highlight),
        shadowAt: SHADOW_AT,
        highlightAt: HIGHLIGHT_AT,
        taps: Float32Array.from({ length: GRAIN_MAX_RADIUS + 1 }, (_, i) => half[i] ?? 0),
      },
    },
  ];
}

export const grain = define<Grain>({
  kind: "grain",
  label: "Grain",
  station: "film",
  drawing: {
    outline: "M17 2 H23 V62 H17 Z",
    detail: "M18 6h4M18 12h4M18 18h4M18 24h4M18 30h4M18 36h4M18 42h4M18 48h4M18 54h4",
  },
  summary: "The silver of a film stock: noise in density, a new pattern each frame, with the mean light kept.",
  advice:
    "Look at mid-greys at 1:1 and in motion. Softening without grain looks wrong; grain that is seen before the picture is too much.",
  strengthLaw: "Multiplies the RMS granularity.",
  source: "Grain in density with granularity by density: ISO 10505 (RMS granularity); a new pattern for every frame.",
  passes: "grains",
  parameters,
  presets: [
    {
      name: "Fine day stock",
      values: { size: 9, shadow: 10, middle: 6.5, highlight: 3, correlation: 0.4, layers: [1, 0.9, 1.25], softness: 0 },
    },
    {
      name: "Middle stock",
      values: {
        size: 13,
        shadow: 15,
        middle: 10,
        highlight: 4.5,
        correlation: 0.45,
        layers: [1, 0.9, 1.3],
        softness: 0,
      },
    },
    {
      name: "Fast night stock",
      values: {
        size: 17,
        shadow: 21,
        middle: 14,
        highlight: 6.5,
        correlation: 0.5,
        layers: [1.05, 0.95, 1.4],
        softness: 0.05,
      },
    },
    {
      name: "Pushed a stop",
      values: {
        size: 21,
        shadow: 30,
        middle: 20,
        highlight: 9,
        correlation: 0.55,
        layers: [1.1, 1, 1.5],
        softness: 0.1,
      },
    },
    {
      name: "Black and white",
      values: { size: 15, shadow: 17, middle: 13, highlight: 6, correlation: 1, layers: [1, 1, 1], softness: 0 },
    },
    {
      name: "Worn print",
      values: { size: 20, shadow: 18, middle: 15, highlight: 10, correlation: 0.7, layers: [1, 1, 1.1], softness: 0.6 },
    },
  ],
  changesWithFrame: true,
  work: { kind: "point", program },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 53 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind,
      colour: "grey",
      kind,
      x: stops,
      y: stops.map((t) => s * rmsAt(values, t)),
    });
    return {
      title: "Granularity by density",
      x: { label: "Light", unit: "stops from mid-grey" },
      y: { label: "RMS granularity", unit: "D × 1000" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
