import type { TransformStep, Transform } from "./transform";

/** A transform as JSON carries it: tables as plain arrays. */
type PlainStep = { [K in keyof TransformStep]: unknown } & { table?: number[] };
export interface PlainTransform {
  name: string;
  steps: PlainStep[];
}

export const toPlain = ({ name, steps }: Transform): PlainTransform => ({
  name,
  steps: steps.map((step) => ("table" in step ? { ...step, table: Array.from(step.table) } : step) as PlainStep),
});

export const fromPlain = ({ name, steps }: PlainTransform): Transform => ({
  name,
  steps: steps.map(
    (step) => (step.table ? { ...step, table: Float32Array.from(step.table) } : step) as unknown as TransformStep,
  ),
});
