import { z } from "zod";
import { type Generator, frameSchema, numberSchema } from "./generator";

const MAX_VALUES = 100_000;

const schema = z.object({ first: frameSchema, values: z.array(numberSchema).min(1).max(MAX_VALUES) }).strict();
export type TableValues = z.infer<typeof schema>;

export const table: Generator<TableValues> = {
  label: "Table",
  summary: "A value for every frame, as it was recorded.",
  schema,
  parameters: {},
  begin: (value, frame) => ({ first: frame, values: [typeof value === "number" ? value : 0] }),
  value: ({ first, values }, _, { frame }) => values[Math.min(values.length - 1, Math.max(0, frame - first))]!,
  kind: () => "number",
  numbers: ({ values }) => values,
};
