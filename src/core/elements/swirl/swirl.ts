import { addProgram, layerOperation } from "../../engine/pointwise";
import { cornerHeight } from "../../frame/geometry";
import { planArc } from "../arc";
import { define, type Parameter, type ValuesOf } from "../definition";
import { axisHandle, axisOf, axisParameters } from "../axis";

type Swirl = ValuesOf<typeof parameters>;

/** How much of the corner's smear an image height has: none inside the inner radius. */
export const swirlShare = ({ exponent, inner }: Pick<Swirl, "exponent" | "inner">, share: number) =>
  Math.max(0, (share - inner / 100) / Math.max(1 - inner / 100, 1e-3)) ** exponent;

const parameters = {
  degrees: {
    type: "number",
    label: "Swirl in the corner",
    unit: "°",
    min: 0,
    max: 30,
    step: 0.1,
    default: 4,
    help: "Whole angle about the axis over which light is smeared.",
  },
  exponent: {
    type: "number",
    label: "Growth",
    unit: "",
    min: 0.5,
    max: 6,
    step: 0.1,
    default: 2,
    help: "1: grows evenly with image height; more: holds back, then comes quickly.",
  },
  inner: {
    type: "number",
    label: "Inner radius",
    unit: "% of corner",
    min: 0,
    max: 95,
    step: 1,
    default: 15,
    help: "Image height up to which nothing moves.",
  },
  radial: {
    type: "number",
    label: "Radial smear",
    unit: "%",
    min: 0,
    max: 30,
    step: 0.1,
    default: 0,
    help: "Smear along the radius in the corner, against image height.",
  },
  lightenOnly: {
    type: "toggle",
    label: "Lighten only",
    default: false,
    help: "Smeared light replaces only what is darker.",
  },
  fringe: {
    type: "number",
    label: "Colour fringe",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0,
    help: "How much further red goes than blue.",
  },
  ...axisParameters,
} as const satisfies Record<string, Parameter>;

export const swirl = define<Swirl>({
  kind: "swirl",
  label: "Swirl",
  station: "lens",
  drawing: {
    outline: "M13 6 C23 16 23 30 17 32 C11 34 13 50 20 58 H29 C35 46 35 18 27 6 Z",
    detail: "M24 22C29 27 29 37 24 42",
  },
  summary: "Light smeared around the axis, more with image height: backgrounds turn about the subject.",
  advice: "Look at highlights and leaves towards the corners. Overdone, the room spins.",
  strengthLaw: "Multiplies the angle and the radial smear.",
  source: "A smear along circles about the axis, growing as a power of image height; its amount is the profile’s.",
  passes: "bends",
  parameters,
  handles: [axisHandle, { kind: "radius", label: "Inner radius", radius: "inner", centre: axisHandle }],
  fromLens: ({ swirl: measured }) =>
    measured
      ? {
          degrees: measured.degrees,
          exponent: measured.exponent,
          ...(measured.innerRadius === undefined ? {} : { inner: measured.innerRadius }),
        }
      : {},
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { geometry }) {
      const corner = cornerHeight(geometry);
      const { axisX, axisY } = axisOf(values, geometry);
      const amount = (height: number) => swirlShare(values, height / corner) * strength;
      const common = {
        centreX: axisX,
        centreY: axisY,
        channels: [1 + values.fringe, 1, 1 - values.fringe / 2] as const,
        fade: null,
        amount,
      };
      let image = planArc(builder, input, geometry, { ...common, angle: (values.degrees * Math.PI) / 180, scale: 0 });
      if (values.radial > 0)
        image = planArc(builder, image, geometry, { ...common, angle: 0, scale: values.radial / 100 });
      if (!values.lightenOnly) return image;
      return addProgram(builder, image, builder.buffer(), [layerOperation({ mode: "lighten", amount: 1 })], input);
    },
  },
  response({ strength, mix, values }) {
    const shares = Array.from({ length: 51 }, (_, i) => i / 50);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: shares.map((share) => 100 * share),
      y: shares.map((share) => values.degrees * s * swirlShare(values, share)),
    });
    return {
      title: "Angle of the smear",
      x: { label: "Image height", unit: "% of corner" },
      y: { label: "Angle about the axis", unit: "°" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
