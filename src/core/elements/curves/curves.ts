import { curvesOperation } from "../../engine/pointwise";
import { monotoneCubic } from "../../maths/interpolate";
import { MID_GREY } from "../key";
import { define, type Parameter, type Trace } from "../definition";

/** Where the curves are held, stops from mid-grey, and by what names. */
const KNOTS = [
  ["blacks", -6],
  ["shadows", -3],
  ["middle", 0],
  ["lights", 3],
  ["brights", 6],
] as const;
type KnotName = (typeof KNOTS)[number][0];
type Triple = readonly [number, number, number];
type Curves = Record<KnotName, number> & Record<`${KnotName}RGB`, Triple>;

/** Knots closer than this would turn the curve back, stops. */
const LEAST_STEP = 0.02;

/** Stops out for stops in, of one channel: a monotone spline through the knots, straight beyond them. */
export function curveStops(values: Curves, strength: number, channel: number): (stops: number) => number {
  const places = KNOTS.map(([, at]) => at);
  const raised = KNOTS.map(([name, at]) => at + strength * (values[name] + values[`${name}RGB`][channel]!));
  for (let i = 1; i < raised.length; i++) raised[i] = Math.max(raised[i]!, raised[i - 1]! + LEAST_STEP);
  const spline = monotoneCubic(places, raised);
  const [first, last] = [places[0]!, places.at(-1)!];
  return (stops) =>
    stops < first ? raised[0]! + stops - first : stops > last ? raised.at(-1)! + stops - last : spline(stops);
}

const number = (label: string, at: number): Parameter => ({
  type: "number",
  label,
  unit: "stops",
  min: -4,
  max: 4,
  step: 0.05,
  default: 0,
  help: `All channels, ${at} stops from mid-grey.`,
});
const triple = (label: string, at: number): Parameter => ({
  type: "triple",
  label,
  unit: "stops",
  min: -3,
  max: 3,
  step: 0.02,
  default: [0, 0, 0],
  help: `Each channel by itself, ${at} stops from mid-grey.`,
});
const capital = (word: string) => word[0]!.toUpperCase() + word.slice(1);
const parameters = Object.fromEntries([
  ...KNOTS.map(([name, at]) => [name, number(capital(name), at)]),
  ...KNOTS.map(([name, at]) => [`${name}RGB`, triple(`${capital(name)} R, G, B`, at)]),
]) as Record<keyof Curves, Parameter>;

export const curves = define<Curves>({
  kind: "curves",
  label: "Curves",
  station: "print",
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M14 50C22 48 18 18 26 14" },
  summary: "A master curve and one for each channel, on the scale of stops.",
  advice: "Watch the grey ramp while a channel moves. Overdone, skin changes colour as it turns from the light.",
  strengthLaw: "Multiplies how far the curves stand from doing nothing.",
  parameters,
  work: {
    kind: "point",
    program: ({ strength, values }) => [
      curvesOperation(
        [0, 1, 2].map((channel) => {
          const stops = curveStops(values, strength, channel);
          return (light: number) =>
            Math.sign(light) * (light === 0 ? 0 : MID_GREY * 2 ** stops(Math.log2(Math.abs(light) / MID_GREY)));
        }),
      ),
    ],
  },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 65 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace[] =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: stops,
        y: stops.map(curveStops(values, s, c)),
      }));
    return {
      title: "Light in, light out",
      x: { label: "Light in", unit: "stops from mid-grey" },
      y: { label: "Light out", unit: "stops from mid-grey" },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
