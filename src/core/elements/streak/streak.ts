import { STREAK_TAIL_RATIO } from "../../profile/lens";
import { planRollOff } from "../roll-off";
import { define, type Trace } from "../definition";
import { keyOf } from "../key";
import { type Streak, parameters } from "./parameters";
import { planTurned, planAlong } from "./plan";

/** Unit-area profile along the line at a distance in e-folding lengths, with the colours of core and tail. */
export const streakProfile = (distance: number, tail: number, core = 1, far = 1) =>
  core * (1 - tail) * 0.5 * Math.exp(-distance) +
  (far * tail * 0.5 * Math.exp(-distance / STREAK_TAIL_RATIO)) / STREAK_TAIL_RATIO;

export const streak = define<Streak>({
  kind: "streak",
  label: "Streak",
  station: "lens",
  drawing: { outline: "M13 6 C20 6 20 58 13 58 L27 58 C27 58 27 6 27 6 Z", detail: "M4 32H36" },
  check: { name: "streak", without: { surround: "black" } },
  summary: "Cylindrical glass draws a line of light through each bright source.",
  advice: "See the matte: only lamps should be in it. Overdone, every window draws a line.",
  strengthLaw: "Multiplies the light of the line.",
  source:
    "Light of a cylindrical front group spreads in one direction: two exponentials along the line, fitted to the profile.",
  passes: "scatters",
  parameters,
  handles: [{ kind: "angle", label: "Angle of the streak", angle: "angle", plane: "frame" }],
  key: ({ values }) => keyOf(values),
  fromLens: ({ streak }) =>
    streak
      ? {
          length: streak.length,
          tail: streak.tail,
          thickness: streak.thickness,
          gain: streak.gain,
          tint: streak.tint,
          tintTail: streak.tint,
        }
      : {},
  work: {
    kind: "buffers",
    plan: (builder, input, { strength, values }, context) => {
      const lines = values.angle || values.count > 1 ? planTurned : planAlong;
      const added = (amount: number) => lines(builder, input, amount, values, context);
      return planRollOff(builder, input, strength, added, values.rollOff, values.lay);
    },
  },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 61 }, (_, i) => i * 0.8);
    const trace = (kind: Trace["kind"], gain: number): Trace[] =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances,
        y: distances.map(
          (d) =>
            (gain * streakProfile(d / values.length[c]!, values.tail, values.tint[c]!, values.tintTail[c]!)) /
            values.length[c]!,
        ),
      }));
    return {
      title: "Light along the line",
      x: { label: "Distance from the source", unit: "% of frame width" },
      y: { label: "Light", unit: "per % of width", logarithmic: true },
      traces: [...trace("measured", values.gain / 100), ...trace("applied", (values.gain / 100) * strength * mix)],
    };
  },
});
