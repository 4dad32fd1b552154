import { define, type ElementState, type Trace, type Parameter, type ValuesOf } from "../definition";
import { surroundParameter } from "../surround";
import { CHANNELS, fitGrade, gradeOf, noFilter, planScatter, scatterAt } from "./scatter";

type Diffusion = ValuesOf<typeof parameters>;

const parameters = {
  profile: { type: "filter", label: "Filter", default: "milkglass", help: "The measured filter." },
  grade: {
    type: "grade",
    label: "Grade",
    default: "1/4",
    help: "Strength class of the filter, as marked on its rim.",
  },
  compensate: {
    type: "toggle",
    label: "Keep exposure",
    default: true,
    help: "Gives back the light the filter absorbs, as opening the stop would.",
  },
  surround: surroundParameter("extend"),
} as const satisfies Record<string, Parameter>;

/** T [(1 - sigma) I + sigma (1 - a) K * I], K the fitted spread with its unresolved centre kept in place. */
export const diffusion = define<Diffusion>({
  kind: "diffusion",
  label: "Diffusion",
  station: "front",
  drawing: { outline: "M16 4 H24 V60 H16 Z", detail: "M18.5 10v3M21.5 17v3M18.5 25v3M21.5 33v3M18.5 41v3M21.5 49v3" },
  check: { name: "scatter" },
  summary: "A diffusion filter in front of the lens scatters part of the light around its source.",
  advice:
    "Look at practical lamps and at skin next to bright windows. Overdone, blacks turn grey and every lamp wears the same fog.",
  strengthLaw: "Multiplies the scattered fraction of the measured grade.",
  source:
    "Unscattered light, and the measured spread of the scattered: a point-spread function per channel, fitted by Gaussians.",
  passes: "scatters",
  parameters,
  missing: noFilter,
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context) {
      const grade = gradeOf(values, context)!;
      const transmission = values.compensate ? 1 : 2 ** (grade.transmissionStops * strength);
      return planScatter(builder, input, grade, context, {
        strength,
        transmission,
        kept: (1 - grade.absorption) * transmission,
        surround: values.surround,
      });
    },
  },
  response(state, context) {
    const grade = gradeOf(state.values, context);
    const axes = {
      title: "Spread",
      x: { label: "Distance from the source", unit: "% of frame height", logarithmic: true },
      y: { label: "Light", unit: "per px²", logarithmic: true },
    };
    if (!grade) return { ...axes, traces: [] };
    const { fit, weights, error } = fitGrade(grade, context);
    const { height } = context.geometry;
    const distances = Array.from({ length: 60 }, (_, i) => 1.5 * (height / 2 / 1.5) ** (i / 59));
    const stretch = (context.geometry.pitchX * context.geometry.squeeze) / context.geometry.pitchY;
    const trace = (kind: Trace["kind"], strength: number): Trace[] =>
      CHANNELS.map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances.map((r) => (100 * r) / height),
        y: distances.map(
          (r) =>
            scatterAt(grade, strength) *
            fit.members.reduce(
              (sum, member, m) => sum + weights[c]![m]! * member.at(r / stretch / Math.SQRT2, r / Math.SQRT2),
              0,
            ),
        ),
      }));
    return {
      ...axes,
      traces: [...trace("measured", 1), ...trace("applied", appliedStrength(state))],
      note: `Fitted within ${error.toFixed(3)} log10 of the profile.`,
    };
  },
});

const appliedStrength = ({ strength, mix }: ElementState<Diffusion>) => strength * mix;
