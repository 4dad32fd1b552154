import { z } from "zod";
import { smoothNoise, steppedNoise } from "../maths/noise";
import { type Generator, type GeneratorParameter, parameterSchema } from "./generator";

const parameters = {
  amplitude: {
    label: "Amplitude",
    help: "How far it goes to either side of the value",
    unit: "",
    min: 0,
    max: 1e4,
    step: 0.01,
    default: 0.1,
  },
  rate: { label: "Rate", help: "How often it turns", unit: "Hz", min: 1e-3, max: 1000, step: 0.1, default: 8 },
  seed: {
    label: "Seed",
    help: "Another number, another course",
    unit: "",
    min: 0,
    max: 9999,
    step: 1,
    default: 1,
    whole: true,
  },
} as const satisfies Record<string, GeneratorParameter>;

const schema = z
  .object({
    amplitude: parameterSchema(parameters.amplitude),
    rate: parameterSchema(parameters.rate),
    seed: parameterSchema(parameters.seed).default(parameters.seed.default),
    stepped: z.boolean().default(false).describe("jumps from value to value instead of going smoothly"),
  })
  .strict();
export type Noise = z.infer<typeof schema>;

export const noise: Generator<Noise> = {
  label: "Noise",
  summary: "Wavers about the value, the same way each time.",
  schema,
  parameters,
  begin: () => ({
    amplitude: parameters.amplitude.default,
    rate: parameters.rate.default,
    seed: parameters.seed.default,
    stepped: false,
  }),
  value: ({ amplitude, rate, seed, stepped }, base, { frame, frameRate }) => {
    const wavering = amplitude * (stepped ? steppedNoise : smoothNoise)(seed, (frame / frameRate) * rate);
    return typeof base === "number" ? base + wavering : wavering;
  },
  kind: () => "number",
  numbers: () => [],
};
