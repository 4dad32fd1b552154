import { addProgram, curvesOperation, blendOperation } from "../../engine/pointwise";
import { gradeOf, noFilter, planScatter, scatterAt } from "../diffusion/scatter";
import { planDepth } from "../depth";
import { define, type Parameter, type ValuesOf } from "../definition";

type Fog = ValuesOf<typeof parameters>;

/** Beyond this many visibilities nothing clears any more. */
const FAR = 12;

/** How much of the fog the air before a thing holds, by its distance. */
const airOperation = (visibility: number) => {
  const share = (z: number) => 1 - Math.exp(-Math.min(Math.max(z, 0), FAR * visibility) / visibility);
  return curvesOperation([share, share, share]);
};

const parameters = {
  profile: { type: "filter", label: "Filter", default: "lowfog", help: "The measured filter." },
  grade: { type: "grade", label: "Grade", default: "1/2", help: "Strength class of the filter." },
  depth: {
    type: "number",
    label: "Clear to",
    unit: "m",
    min: 0,
    max: 500,
    step: 0.5,
    default: 0,
    help: "Distance at which the air holds 63 % of the fog; 0: the same everywhere. Needs a depth channel.",
  },
} as const satisfies Record<string, Parameter>;

/** Diffusion with a very wide spread; where the footage has depth, as much of it as there is air before a thing. */
export const fog = define<Fog>({
  kind: "fog",
  label: "Fog",
  station: "front",
  drawing: { outline: "M13 4 H27 V60 H13 Z", detail: "M16 14h8M15 22h10M16 30h8M15 38h10M16 46h8" },
  check: { name: "scatter" },
  summary: "A fog filter: light spread so wide that it lies over the scene like air.",
  advice:
    "Look at how far the blacks rise beside windows. With depth, near things stay clear. Overdone, there is no near any more.",
  strengthLaw: "Multiplies the scattered fraction of the measured grade.",
  source:
    "As diffusion; with depth, the air before a thing holds 1 − exp(−z / visibility) of it (Bouguer and Lambert).",
  passes: "scatters",
  parameters,
  missing: noFilter,
  usesDepth: ({ values }) => values.depth > 0,
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context) {
      const grade = gradeOf(values, context)!;
      const spread = planScatter(builder, input, grade, context, { strength, kept: 1 });
      if (!context.hasDepth || values.depth <= 0) return spread;
      const depth = planDepth(builder, context);
      const matte = addProgram(builder, depth, builder.buffer(), [airOperation(values.depth)]);
      return addProgram(builder, spread, builder.buffer(), [blendOperation], input, matte);
    },
  },
  response(state, context) {
    const grade = gradeOf(state.values, context);
    const distances = Array.from({ length: 61 }, (_, i) => i);
    const share = (z: number) =>
      state.values.depth > 0 && context.hasDepth ? 1 - Math.exp(-z / state.values.depth) : 1;
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: distances,
      y: distances.map((z) => (grade ? 100 * scatterAt(grade, s) * share(z) : 0)),
    });
    return {
      title: "Light scattered",
      x: { label: "Distance", unit: "m" },
      y: { label: "Scattered", unit: "% of light" },
      traces: [trace("measured", 1), trace("applied", state.strength * state.mix)],
    };
  },
});
