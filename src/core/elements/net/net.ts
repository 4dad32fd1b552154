import { planLines } from "../../spread/lines";
import { gradeOf, noFilter, planScatter } from "../diffusion/scatter";
import { define, type Parameter, type ValuesOf } from "../definition";

type Net = ValuesOf<typeof parameters>;

/** Standard deviation across an arm of the cross, in frame heights. */
const THICKNESS = 0.0018;

const parameters = {
  profile: { type: "filter", label: "Filter", default: "silkmesh", help: "The measured net." },
  grade: { type: "grade", label: "Grade", default: "fine", help: "How dense the weave is." },
  cross: {
    type: "number",
    label: "Cross",
    unit: "%",
    min: 0,
    max: 20,
    step: 0.1,
    default: 2.5,
    help: "Light that the weave's diffraction sends along its threads.",
  },
  reach: {
    type: "number",
    label: "Reach of the cross",
    unit: "% of height",
    min: 0.5,
    max: 40,
    step: 0.1,
    default: 4,
    logarithmic: true,
    help: "Distance over which it falls to 37 %.",
  },
  angle: {
    type: "number",
    label: "Angle of the weave",
    unit: "°",
    min: -45,
    max: 45,
    step: 1,
    default: 8,
    help: "How it is stretched on its ring.",
  },
  thread: {
    type: "choice",
    label: "Thread",
    options: { dark: "Dark", light: "Light" },
    default: "dark",
    help: "Light thread adds its own glow; dark thread swallows a share.",
  },
} as const satisfies Record<string, Parameter>;

/**
 * A stretched net before or behind the lens: scatter from its threads, and a cross that its weave's diffraction draws.
 */
export const net = define<Net>({
  kind: "net",
  label: "Net",
  station: "front",
  drawing: {
    outline: "M17 4 H23 V60 H17 Z",
    detail: "M17 8L23 14M23 8L17 14M17 20L23 26M23 20L17 26M17 32L23 38M23 32L17 38M17 44L23 50M23 44L17 50",
  },
  check: { name: "scatter", without: { cross: 0 } },
  summary: "Fabric stretched over the lens: its threads scatter, its weave draws a faint cross through lights.",
  advice:
    "Look at faces against lamps. Light thread lifts the shadows; dark thread keeps them. Overdone, the weave itself is seen.",
  strengthLaw: "Multiplies the scattered fraction and the cross.",
  source: "The profile’s measured scatter, and a cross along the threads whose arms fall off exponentially.",
  passes: "scatters",
  parameters,
  handles: [{ kind: "angle", label: "Angle of the weave", angle: "angle", plane: "frame" }],
  missing: noFilter,
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context) {
      const grade = gradeOf(values, context)!;
      const spread = planScatter(builder, input, grade, context, {
        strength,
        kept: values.thread === "dark" ? 1 - grade.absorption : 1,
      });
      const cross = ((values.cross / 100) * strength) / 2;
      if (cross === 0) return spread;
      const reach = (values.reach / 100) * context.geometry.height;
      // The longer the wave, the wider it is diffracted.
      return planLines(builder, spread, {
        lines: [values.angle, values.angle + 90].map((angle) => ({ angle, oneWay: false })),
        strands: [{ length: [reach * 1.15, reach, reach * 0.85], weight: [cross, cross, cross] }],
        thickness: Math.max(1, THICKNESS * context.geometry.height),
      });
    },
  },
  response(state, context) {
    const grade = gradeOf(state.values, context);
    const axes = {
      title: "Light along the cross",
      x: { label: "Distance from the source", unit: "% of frame height" },
      y: { label: "Light", unit: "% per % of height", logarithmic: true },
    };
    const { cross, reach } = state.values;
    const distances = Array.from({ length: 61 }, (_, i) => (i / 60) * reach * 4);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: distances,
      y: distances.map((d) => Math.max(1e-6, (cross * s * Math.exp(-d / reach)) / reach)),
    });
    return { ...axes, traces: grade ? [trace("measured", 1), trace("applied", state.strength * state.mix)] : [] };
  },
});
