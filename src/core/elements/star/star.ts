import { planLines } from "../../spread/lines";
import type { Colour } from "../../spread/plan";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";

type Star = ValuesOf<typeof parameters>;

/** Arms per channel: a grating throws red light further than blue. */
export const armLengths = ({ length, dispersion }: Pick<Star, "length" | "dispersion">): Colour => [
  length * (1 + dispersion),
  length,
  length * (1 - 0.6 * dispersion),
];

const parameters = {
  points: {
    type: "number",
    label: "Points",
    unit: "",
    min: 2,
    max: 16,
    step: 1,
    default: 4,
    help: "Arms of each star.",
  },
  angle: {
    type: "number",
    label: "Angle",
    unit: "°",
    min: -180,
    max: 180,
    step: 1,
    default: 45,
    help: "Of the first arm, clockwise from the right.",
  },
  length: {
    type: "number",
    label: "Length",
    unit: "% of height",
    min: 0.2,
    max: 60,
    step: 0.1,
    default: 5,
    logarithmic: true,
    help: "Distance over which an arm falls to 37 %.",
  },
  dispersion: {
    type: "number",
    label: "Dispersion",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.2,
    help: "How much further red goes than blue.",
  },
  thickness: {
    type: "number",
    label: "Thickness",
    unit: "% of height",
    min: 0.05,
    max: 2,
    step: 0.01,
    default: 0.25,
    logarithmic: true,
    help: "Standard deviation across an arm.",
  },
  gain: {
    type: "number",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 200,
    step: 1,
    default: 14,
    help: "Light of all arms over the keyed light.",
  },
  ...keyParameters(4),
} as const satisfies Record<string, Parameter>;

export const star = define<Star>({
  kind: "star",
  label: "Star",
  station: "front",
  drawing: { outline: "M14 4 H26 V60 H14 Z", detail: "M20 20V44M9 32H31M13 25L27 39M27 25L13 39" },
  summary: "A filter cut with fine lines draws a star through each bright point.",
  advice: "See the matte: only points should be in it. Overdone, the picture is about the filter.",
  strengthLaw: "Multiplies the light of the arms.",
  source:
    "A model of its own: arms that fall off exponentially, each channel with a length of its own, on the frame’s own pixels.",
  passes: "scatters",
  parameters,
  handles: [{ kind: "angle", label: "Angle and length of an arm", angle: "angle", plane: "frame", length: "length" }],
  key: ({ values }) => keyOf(values),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { geometry }) {
      const points = Math.round(values.points);
      // Opposite arms of an even star are one line.
      const isEven = points % 2 === 0;
      const lines = Array.from({ length: isEven ? points / 2 : points }, (_, i) => ({
        angle: values.angle + (360 * i) / points,
        oneWay: !isEven,
      }));
      const px = (percent: number) => (percent / 100) * geometry.height;
      const share = ((values.gain / 100) * strength) / lines.length;
      return planLines(builder, input, {
        lines,
        strands: [{ length: armLengths(values).map(px) as unknown as Colour, weight: [share, share, share] }],
        thickness: px(values.thickness),
        key: builder.table(keyRecord(keyOf(values))),
      });
    },
  },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 61 }, (_, i) => (i / 60) * values.length * 4);
    const trace = (kind: "measured" | "applied", s: number) =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances,
        y: distances.map((d) => (values.gain * s * Math.exp(-d / armLengths(values)[c]!)) / armLengths(values)[c]!),
      }));
    return {
      title: "Light along an arm",
      x: { label: "Distance from the source", unit: "% of frame height" },
      y: { label: "Light", unit: "% per % of height", logarithmic: true },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
