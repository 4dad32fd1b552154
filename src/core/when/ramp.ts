import { z } from "zod";
import { type Generator, frameSchema, numberSchema } from "./generator";

/** Frames a ramp takes where nothing is said. */
const DEFAULT_FRAMES = 24;

const schema = z
  .object({ from: numberSchema, to: numberSchema, first: frameSchema, last: frameSchema })
  .strict()
  .refine(({ first, last }) => last > first, { path: ["last"], message: "must come after first" });
export type Ramp = z.infer<typeof schema>;

const start = (value: unknown) => (typeof value === "number" ? value : 0);

export const ramp: Generator<Ramp> = {
  label: "Ramp",
  summary: "Goes evenly from one value to another, and stays there.",
  schema,
  parameters: {},
  begin: (value, frame) => ({ from: start(value), to: start(value), first: frame, last: frame + DEFAULT_FRAMES }),
  value: ({ from, to, first, last }, _, { frame }) =>
    from + (to - from) * Math.min(1, Math.max(0, (frame - first) / (last - first))),
  kind: () => "number",
  numbers: ({ from, to }) => [from, to],
};
