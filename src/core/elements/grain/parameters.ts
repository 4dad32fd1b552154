import { type Parameter, type ValuesOf } from "../definition";

export type Grain = ValuesOf<typeof parameters>;

/** Stops from mid-grey at which the shadow and highlight figures stand. */
export const SHADOW_AT = -5;
export const HIGHLIGHT_AT = 4;

export const parameters = {
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
