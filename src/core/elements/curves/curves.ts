import { MID_GREY, stopsOf } from "../../colour/grey";
import { curvesOperation } from "../../engine/pointwise";
import { type CurvePoints, curveThrough } from "../../maths/curve";
import { define, type Parameter, type Trace, type ValuesOf } from "../definition";

type Curves = ValuesOf<typeof parameters>;

const AXIS = { min: -10, max: 10, unit: "stops from mid-grey" };

/** Points on the diagonal, where a curve is first taken hold of. */
const STRAIGHT: CurvePoints = [
  [-6, -6],
  [-3, -3],
  [0, 0],
  [3, 3],
  [6, 6],
];

const curve = <L extends string>(label: L, help: string, presets?: readonly { name: string; points: CurvePoints }[]) =>
  ({
    type: "curve",
    label,
    x: { ...AXIS, label: "Light in" },
    y: { ...AXIS, label: "Light out" },
    default: STRAIGHT,
    presets,
    help,
  }) as const satisfies Parameter;

const parameters = {
  master: curve("All channels", "Of all channels.", [
    { name: "Straight", points: STRAIGHT },
    {
      name: "More contrast",
      points: [
        [-6, -6.8],
        [-3, -3.5],
        [0, 0],
        [3, 3.4],
        [6, 6.4],
      ],
    },
    {
      name: "Blacks up, whites down",
      points: [
        [-6, -5],
        [-3, -2.8],
        [0, 0],
        [3, 2.7],
        [6, 4.9],
      ],
    },
  ]),
  red: curve("Red", "Of red alone, before the curve of all channels."),
  green: curve("Green", "Of green alone, before the curve of all channels."),
  blue: curve("Blue", "Of blue alone, before the curve of all channels."),
};

const CHANNELS = ["red", "green", "blue"] as const;

/** Stops out for stops in, of one channel: its own curve, then the master. */
export function curveStops(values: Curves, strength: number, channel: number): (stops: number) => number {
  const own = curveThrough(values[CHANNELS[channel]!], strength);
  const master = curveThrough(values.master, strength);
  return (stops) => master(own(stops));
}

/** Knots of the element's first version, stops: a number and one a channel at each. */
const EARLIER_KNOTS = { blacks: -6, shadows: -3, middle: 0, lights: 3, brights: 6 } as const;

/** The same curves, drawn: those of the channels held what all had and their own. */
function fromEarlier(params: Readonly<Record<string, unknown>>): Readonly<Record<string, unknown>> {
  const knots = Object.entries(EARLIER_KNOTS);
  if (!knots.some(([name]) => name in params || `${name}RGB` in params)) return params;
  const through = (channel: number | null): CurvePoints =>
    knots.map(([name, at]) => {
      const each = params[`${name}RGB`] as number[] | undefined;
      return [at, at + Number(params[name] ?? 0) + (channel === null ? 0 : (each?.[channel] ?? 0))];
    });
  if (!knots.some(([name]) => `${name}RGB` in params)) return { master: through(null) };
  return Object.fromEntries(CHANNELS.map((name, channel) => [name, through(channel)]));
}

export const curves = define<Curves>({
  kind: "curves",
  label: "Curves",
  station: "print",
  isTonal: true,
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M14 50C22 48 18 18 26 14" },
  summary: "A master curve and one for each channel, drawn on the scale of stops.",
  advice: "Watch the grey ramp while a channel moves. Overdone, skin changes colour as it turns from the light.",
  strengthLaw: "Multiplies how far the curves stand from doing nothing.",
  source: "Monotone cubic splines: F. Fritsch and R. Carlson, SIAM J. Numerical Analysis 17, 1980.",
  passes: "tints",
  parameters,
  fromEarlier,
  work: {
    kind: "point",
    program: ({ strength, values }) => [
      curvesOperation(
        [0, 1, 2].map((channel) => {
          const stops = curveStops(values, strength, channel);
          return (light: number) =>
            Math.sign(light) * (light === 0 ? 0 : MID_GREY * 2 ** stops(stopsOf(Math.abs(light))));
        }),
        "straight",
      ),
    ],
  },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 65 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace[] =>
      CHANNELS.map((colour, c) => ({
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
