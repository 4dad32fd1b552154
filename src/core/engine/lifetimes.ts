import { buffersIn, kernelDefinition, type Rows } from "./kernels";
import type { Operation, Plan, PlanStep } from "./plan";

/** An operation of a plan, and what becomes of buffers around it. */
export interface Turn {
  operation: Operation;
  /** Rows it has to fill; empty where nothing needs them. */
  rows: Rows;
  /** Buffers that need room of their own before it. */
  allocates: number[];
  /** The buffer whose room its result takes over, or null. */
  overwrites: number | null;
  /** Buffers that nothing reads after it. */
  releases: number[];
}

/** A step of a plan as turns, and the buffers that were only passed through it. */
export interface Stage {
  step: PlanStep;
  turns: Turn[];
  releases: number[];
}

/**
 * The lifetimes of a plan's buffers, from step `first` on, which begins with `input` in memory. The result of a step
 * outlives it: who runs the plan may keep it. `keepsInputs`: whether results of steps before may not be written over,
 * and are not given back before their step has ended.
 * `needed`: rows that are asked for of every buffer; all of all where it is left out.
 */
export function lifetimesOf(
  plan: Plan,
  first: number,
  input: number,
  keepsInputs: boolean,
  needed?: ReadonlyMap<number, Rows>,
): Stage[] {
  const steps = plan.steps.slice(first);
  const lastRead = lastReads(steps);
  // These live as long as the run, or longer.
  const lasting = new Set([
    ...plan.constants.map(({ operation }) => operation.output),
    ...plan.extras.map(({ buffer }) => buffer),
  ]);
  const live = new Set([input, ...lasting]);
  let cached: number | null = input;
  return steps.map((step) => {
    const turns = step.operations.map((operation): Turn => {
      const { output, beside } = operation;
      const ended = [...lastRead].filter(([, reader]) => reader === operation).map(([id]) => id);
      const isFree = (id: number) => ended.includes(id) && !lasting.has(id) && !(id === cached && keepsInputs);
      const isNew = !live.has(output);
      const overwrites = isNew ? overwritten(operation, plan, isFree) : null;
      const allocates = [...(isNew && overwrites === null ? [output] : []), ...(beside === undefined ? [] : [beside])];
      for (const id of [output, ...allocates]) live.add(id);
      if (overwrites !== null) live.delete(overwrites);
      if (overwrites === cached || (!keepsInputs && ended.some((id) => id === cached))) cached = null;
      const releases = ended.filter((id) => live.has(id) && id !== cached && id !== step.output && !lasting.has(id));
      for (const id of releases) live.delete(id);
      return { operation, rows: rowsToFill(operation, plan, needed), allocates, overwrites, releases };
    });
    const releases = [...live].filter((id) => id !== step.output && id !== cached && !lasting.has(id));
    for (const id of releases) live.delete(id);
    if (cached !== null && cached !== step.output) live.delete(cached);
    cached = step.output;
    return { step, turns, releases };
  });
}

/** The last operation that names each buffer. */
function lastReads(steps: PlanStep[]): Map<number, Operation> {
  const last = new Map<number, Operation>();
  for (const operation of steps.flatMap(({ operations }) => operations))
    for (const [, buffer] of buffersIn(operation.kernel, operation.args)) last.set(buffer, operation);
  return last;
}

/**
 * The buffer whose room an operation's result may take, or null: one of the same size that it reads row by row, through
 * one argument, and that nothing reads after it.
 */
function overwritten({ kernel, args, output }: Operation, { buffers }: Plan, isFree: (id: number) => boolean) {
  const read = buffersIn(kernel, args);
  const [, candidate = null] = read.find(([name]) => name === kernelDefinition(kernel).overwrites) ?? [];
  if (candidate === null || !isFree(candidate)) return null;
  const isReadOnce = read.filter(([, id]) => id === candidate).length === 1;
  const [from, to] = [buffers[candidate]!, buffers[output]!];
  return isReadOnce && from.width === to.width && from.height === to.height && from.pixelBytes === to.pixelBytes
    ? candidate
    : null;
}

/** The rows an operation has to fill: of its output, and of what it fills on the way. None where nothing needs them. */
function rowsToFill({ output, beside, rows }: Operation, { buffers }: Plan, needed?: ReadonlyMap<number, Rows>): Rows {
  if (!needed || rows !== buffers[output]!.height) return [0, rows];
  const [own, further] = [needed.get(output), beside === undefined ? undefined : needed.get(beside)];
  const asked = [own, further].filter((entry) => entry !== undefined);
  return [Math.min(rows, ...asked.map(([first]) => first)), Math.max(0, ...asked.map(([, end]) => end))];
}
