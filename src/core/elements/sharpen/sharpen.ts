import { addProgram } from "../../engine/pointwise";
import { planGaussian } from "../../spread/gaussian";
import { define, type Parameter, type ValuesOf } from "../definition";

type Sharpen = ValuesOf<typeof parameters>;

const parameters = {
  radius: {
    type: "number",
    label: "Radius",
    unit: "µm",
    min: 2,
    max: 200,
    step: 0.5,
    default: 14,
    logarithmic: true,
    help: "Standard deviation of the blur it is measured against, on the sensor.",
  },
  amount: {
    type: "number",
    label: "Amount",
    unit: "%",
    min: 0,
    max: 300,
    step: 1,
    default: 40,
    help: "How much of the difference is added.",
  },
  limit: {
    type: "number",
    label: "Halo limit",
    unit: "% of light",
    min: 1,
    max: 100,
    step: 1,
    default: 25,
    help: "The most an edge is raised or lowered by.",
  },
} as const satisfies Record<string, Parameter>;

/** light + amount (light - blurred light), held within a share of the light around it. */
export const sharpen = define<Sharpen>({
  kind: "sharpen",
  label: "Sharpen",
  station: "print",
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M15 44H19L20 48L21 16L22 20H26" },
  summary: "Unsharp masking of a stated radius, with a limit against halos.",
  advice: "Look at hair and branches at 1:1. Overdone, edges wear a bright line.",
  strengthLaw: "Multiplies the amount.",
  source: "Unsharp masking in a stated radius, held to a share of the light against halos.",
  passes: "blurs",
  parameters,
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { geometry }) {
      const [x, y] = [geometry.pitchX, geometry.pitchY].map((pitch) => values.radius / 1000 / pitch) as [
        number,
        number,
      ];
      const blurred = planGaussian(builder, input, x, y);
      return addProgram(
        builder,
        input,
        builder.buffer(),
        [{ code: "unsharp", fields: { amount: (values.amount / 100) * strength, limit: values.limit / 100 } }],
        blurred,
      );
    },
  },
  response({ strength, mix, values }, { geometry }) {
    const nyquist = 0.5 / geometry.pitchY;
    const frequencies = Array.from({ length: 60 }, (_, i) => (i / 59) * nyquist);
    const contrast = (f: number, s: number) =>
      100 * (1 + (values.amount / 100) * s * (1 - Math.exp(-2 * (Math.PI * f * (values.radius / 1000)) ** 2)));
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: frequencies,
      y: frequencies.map((f) => contrast(f, s)),
    });
    return {
      title: "Contrast by frequency",
      x: { label: "Frequency", unit: "lp/mm" },
      y: { label: "Contrast", unit: "%" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
