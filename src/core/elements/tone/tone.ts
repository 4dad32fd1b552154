import { MID_GREY, stopsOf } from "../../colour/grey";
import { LUMINANCE } from "../../colour/primaries";
import { addProgram, curvesOperation, type PointOperation } from "../../engine/pointwise";
import { keyOf } from "../key";
import { hazeMatte, hazeParameters, planHaze } from "./haze";
import { define, type Grip, type Trace, type Parameter, type ValuesOf } from "../definition";

type Tone = ValuesOf<typeof parameters>;

/** A ramp that begins softly: 0 well below 0, x well above, its slope the logistic function. */
const softRamp = (x: number, softness: number) => {
  const w = Math.max(softness, 0.02) / 4;
  return x / w > 30 ? x : w * Math.log1p(Math.exp(x / w));
};

/**
 * Stops out for stops in: beyond each threshold the slope changes by the amount. Rises everywhere for amounts under 1.
 */
export function toneStops(
  { toeAt, toeSoftness, toe, shoulderAt, shoulderSoftness, shoulder }: Tone,
  strength: number,
  stops: number,
): number {
  const hold = Math.min(0.98, shoulder * strength);
  const crush = Math.max(-0.95, toe * strength);
  return stops - hold * softRamp(stops - shoulderAt, shoulderSoftness) - crush * softRamp(toeAt - stops, toeSoftness);
}

const parameters = {
  toeAt: {
    type: "number",
    label: "Toe from",
    unit: "stops",
    min: -10,
    max: 0,
    step: 0.1,
    default: -3.5,
    help: "Where the shadows begin to change, from mid-grey.",
  },
  toeSoftness: {
    type: "number",
    label: "Toe softness",
    unit: "stops",
    min: 0,
    max: 6,
    step: 0.1,
    default: 2,
    help: "How gradually.",
  },
  toe: {
    type: "number",
    label: "Crush blacks",
    unit: "",
    min: -0.9,
    max: 2,
    step: 0.01,
    default: 0.25,
    help: "Stops lost for each stop below the toe; below 0 raises the blacks.",
  },
  shoulderAt: {
    type: "number",
    label: "Shoulder from",
    unit: "stops",
    min: 0,
    max: 10,
    step: 0.1,
    default: 2.5,
    help: "Where the highlights begin to be held, from mid-grey.",
  },
  shoulderSoftness: {
    type: "number",
    label: "Shoulder softness",
    unit: "stops",
    min: 0,
    max: 6,
    step: 0.1,
    default: 2,
    help: "How gradually.",
  },
  shoulder: {
    type: "number",
    label: "Hold highlights",
    unit: "",
    min: 0,
    max: 0.95,
    step: 0.01,
    default: 0.25,
    help: "Share of each stop above the shoulder that is held back.",
  },
  ...hazeParameters,
} as const satisfies Record<string, Parameter>;

/** Where on the plot, in stops beyond a threshold, the hand takes hold of how much is changed there. */
const ARM = 3;

/** The two thresholds, on the curve, and an arm of each, whose height is how much is crushed or held. */
function gripsOf(values: Tone, share: number): Grip[] {
  const out = (stops: number) => toneStops(values, share, stops);
  const { toeAt, toeSoftness, shoulderAt, shoulderSoftness } = values;
  // At no strength nothing is changed, whatever is set: the arms stand on the diagonal, and do not move.
  const amount = (name: string, by: number, softness: number): Record<string, number> =>
    share ? { [name]: by / (share * softRamp(ARM, softness)) } : {};
  return [
    { label: "Toe from", x: toeAt, y: out(toeAt), set: (x) => ({ toeAt: x }) },
    {
      label: "Crush blacks",
      x: toeAt - ARM,
      y: out(toeAt - ARM),
      set: (_, y) => amount("toe", toeAt - ARM - y, toeSoftness),
    },
    { label: "Shoulder from", x: shoulderAt, y: out(shoulderAt), set: (x) => ({ shoulderAt: x }) },
    {
      label: "Hold highlights",
      x: shoulderAt + ARM,
      y: out(shoulderAt + ARM),
      set: (_, y) => amount("shoulder", shoulderAt + ARM - y, shoulderSoftness),
    },
  ];
}

/** The curve, on each channel. */
function toneProgram(values: Tone, strength: number): PointOperation[] {
  const curve = (light: number) =>
    Math.sign(light) * (light === 0 ? 0 : MID_GREY * 2 ** toneStops(values, strength, stopsOf(Math.abs(light))));
  return [curvesOperation([curve, curve, curve], "straight")];
}

export const tone = define<Tone>({
  kind: "tone",
  label: "Tone",
  station: "print",
  isTonal: true,
  beyondTone: { label: "Tone, its haze", has: ({ haze }) => haze > 0, without: { haze: 0 } },
  key: ({ values }) => (values.haze > 0 ? keyOf(values) : null),
  keyMatte: ({ values }, context) => hazeMatte(values, context),
  handles: [{ kind: "point", label: "Middle of the haze", x: "hazeX", y: "hazeY", unless: { hazeRadius: 0 } }],
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M14 46H18V38H22V28H26V18" },
  summary:
    "A toe and a shoulder on the scale of stops, blacks and highlights; and a haze of the light parts over the rest.",
  advice:
    "Use it to give back the blacks that scatter lifted. Overdone, highlights go grey and shadows lose their shapes.",
  strengthLaw: "Multiplies what is held and what is crushed, and the haze.",
  source:
    "Two soft ramps on a scale of stops, each the integral of a logistic function; the haze is a Gaussian spread.",
  passes: "tints",
  parameters,
  work: ({ values: { haze } }) =>
    haze > 0
      ? {
          kind: "buffers",
          plan(builder, input, { strength, values }, context) {
            const toned = addProgram(builder, input, builder.buffer(), toneProgram(values, strength));
            return planHaze(builder, toned, values, (values.haze / 100) * strength, context, LUMINANCE);
          },
        }
      : { kind: "point", program: ({ strength, values }) => toneProgram(values, strength) },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 65 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind,
      colour: "grey",
      kind,
      x: stops,
      y: stops.map((t) => toneStops(values, s, t)),
    });
    return {
      title: "Light in, light out",
      x: { label: "Light in", unit: "stops from mid-grey" },
      y: { label: "Light out", unit: "stops from mid-grey" },
      grips: gripsOf(values, strength * mix),
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
