import { clamp } from "../../maths/interpolate";
import { frameSeed } from "../../maths/noise";
import type { PointOperation } from "../../engine/pointwise";
import { define, type ElementState, type Trace, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";
import { GRAIN_MAX_RADIUS } from "../../engine/records";

type Grain = ValuesOf<typeof parameters>;

/** The aperture granularity is stated through (ISO 10505): 48 µm across, mm. RMS figures are density times 1000. */
const APERTURE = 0.048;
const RMS_UNIT = 1e-3;
/** Stops from mid-grey at which the shadow and highlight figures stand. */
export const SHADOW_AT = -5;
export const HIGHLIGHT_AT = 4;
/** Full width at half maximum over standard deviation of a Gaussian. */
const FWHM = 2.3548;
/**
 * Largest radius of the filter, px, as assembly/grain.ts has it: three deviations of the largest, softest grain on
 * pixels of 2.5 µm.
 */
/** A density of 1 is this many stops. */
const STOPS_PER_DENSITY = Math.log2(10);

/** Gaussian taps (centre first, unit power: the sum of squares over the whole kernel is 1). */
function taps(sigma: number): number[] {
  const radius = clamp(Math.ceil(3 * sigma), 0, GRAIN_MAX_RADIUS);
  const raw = Array.from({ length: radius + 1 }, (_, i) => Math.exp(-0.5 * (i / Math.max(sigma, 1e-3)) ** 2));
  const power = Math.sqrt(raw.reduce((sum, tap, i) => sum + (i ? 2 : 1) * tap * tap, 0));
  return raw.map((tap) => tap / power);
}

/**
 * RMS through a square aperture of the 48 µm circle's area, of noise of unit variance a pixel filtered by `half`
 * (pixels of `pitch` mm): from the noise's autocorrelation and the aperture's.
 */
export function apertureRms(half: number[], pitch: number): number {
  const full = [...half.slice(1).reverse(), ...half];
  const side = (APERTURE * Math.sqrt(Math.PI)) / 2 / pitch; // px
  let variance = 0;
  for (let lag = -full.length; lag <= full.length; lag++) {
    let correlation = 0;
    for (let i = 0; i < full.length; i++) correlation += full[i]! * (full[i + lag] ?? 0);
    // Overlap of the aperture with itself moved by `lag`, each seen through pixels of unit width (a triangle).
    let overlap = 0;
    const steps = 64;
    for (let k = 0; k < steps; k++) {
      const t = lag + ((k + 0.5) / steps) * 2 - 1;
      overlap += (Math.max(0, side - Math.abs(t)) / side ** 2) * (1 - Math.abs(t - lag)) * (2 / steps);
    }
    variance += correlation * overlap;
  }
  return Math.max(variance, 1e-12); // separable: the variance is the square of the one-dimensional one, the RMS its root
}

/** Gaussian of the grain widened by the pixel's own box, and by its softness, px. */
function filterTaps({ size, softness }: Grain, pitch: number): number[] {
  return taps(((1 + softness) * Math.hypot(size / 1000 / FWHM, pitch / Math.sqrt(12))) / pitch);
}

/** Sigma in stops of a pixel, for an RMS figure. */
function pixelSigma(rms: number, values: Grain, pitch: number): number {
  const half = filterTaps(values, pitch);
  return (rms * RMS_UNIT * STOPS_PER_DENSITY) / apertureRms(half, pitch);
}

/** The RMS figure at a light, stops from mid-grey: three figures, smooth between. As assembly/grain.ts has it. */
export function rmsAt(
  { shadow, middle, highlight }: Pick<Grain, "shadow" | "middle" | "highlight">,
  stops: number,
): number {
  const smooth = (t: number) => t * t * (3 - 2 * t);
  const down = smooth(clamp(stops / SHADOW_AT, 0, 1));
  const up = smooth(clamp(stops / HIGHLIGHT_AT, 0, 1));
  return middle + (shadow - middle) * down + (highlight - middle) * up;
}

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

const parameters = {
  size: {
    type: "number",
    label: "Grain size",
    unit: "µm",
    min: 2,
    max: 40,
    step: 0.5,
    default: 14,
    help: "Width of a grain clump on the film, at half its height.",
  },
  shadow: {
    type: "number",
    label: "RMS in shadows",
    unit: "D × 1000",
    min: 0,
    max: 80,
    step: 0.5,
    default: 16,
    help: `Granularity ${-SHADOW_AT} stops under mid-grey, through a 48 µm aperture.`,
  },
  middle: {
    type: "number",
    label: "RMS at mid-grey",
    unit: "D × 1000",
    min: 0,
    max: 80,
    step: 0.5,
    default: 11,
    help: "Granularity at mid-grey, through a 48 µm aperture.",
  },
  highlight: {
    type: "number",
    label: "RMS in highlights",
    unit: "D × 1000",
    min: 0,
    max: 80,
    step: 0.5,
    default: 5,
    help: `Granularity ${HIGHLIGHT_AT} stops over mid-grey, through a 48 µm aperture.`,
  },
  correlation: {
    type: "number",
    label: "Channel correlation",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.5,
    help: "0: each colour layer has its own grain; 1: one silver grain for all.",
  },
  layers: {
    type: "triple",
    label: "Layers R, G, B",
    unit: "×",
    min: 0,
    max: 3,
    step: 0.05,
    default: [1, 1, 1],
    help: "Granularity of each colour layer, against the figures above.",
  },
  softness: {
    type: "number",
    label: "Softness",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0,
    help: "Widens the clumps' edges at the same granularity, as an optical print does.",
  },
  seed: {
    type: "number",
    label: "Seed",
    unit: "",
    min: 0,
    max: 9999,
    step: 1,
    default: 1,
    help: "Another number is another pattern.",
  },
} as const satisfies Record<string, Parameter>;

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
