import { buffersIn, kernelDefinition, type Rows, SURROUND } from "./kernels";
import type { Operation, Plan } from "./plan";

/** Rows beyond what a kernel's reach says: mirrored edges may lie within a cell. */
const TO_BE_SURE = 1;
/** What a warp makes of some rows comes from these of its source. */
export type WarpReads = (operation: Operation, rows: Rows) => Rows;

/** Taps of the warp around a place, px, where the picture is not shrunk. */
const WARP_REACH = 4;

/**
 * Rows of its source that a warp reads for rows of its result, by the nodes of its map: floats, x of red, green, blue
 * and green again, then y of them. A place's taps reach further where the picture shrinks, and the spectrum's ends lie
 * outside red and blue as assembly/places.ts has it.
 */
export function warpReads(nodes: Float32Array, columns: number, spacing: number, [first, end]: Rows): Rows {
  const rows = Math.floor(nodes.length / (8 * columns));
  const from = Math.max(0, Math.floor(first / spacing));
  const to = Math.min(rows - 1, Math.ceil(end / spacing) + 1);
  let [low, high, beyond, steep] = [Infinity, -Infinity, 0, 1];
  for (let j = from; j <= to; j++)
    for (let i = 0; i < columns; i++) {
      const at = (j * columns + i) * 8 + 4;
      const [red, green, blue] = [nodes[at]!, nodes[at + 1]!, nodes[at + 2]!];
      low = Math.min(low, red, green, blue);
      high = Math.max(high, red, green, blue);
      beyond = Math.max(beyond, Math.abs(red - blue) / 2 + 3 * Math.abs((red + blue) / 2 - green));
      if (j > from) steep = Math.max(steep, Math.abs(green - nodes[at + 1 - 8 * columns]!) / spacing);
    }
  const reach = Math.ceil(beyond + WARP_REACH * steep);
  return [Math.floor(low) - reach, Math.ceil(high) + reach + 1];
}

const joined = (a: Rows | undefined, b: Rows): Rows => (a ? [Math.min(a[0], b[0]), Math.max(a[1], b[1])] : b);
/** Rows as they lie in a picture: what is beyond its edges is its mirror image. */
function within([wantedFirst, wantedEnd]: Rows, height: number): Rows {
  const [first, end] = [wantedFirst - TO_BE_SURE, wantedEnd + TO_BE_SURE];
  if (first < -height || end > 2 * height) return [0, height];
  const mirroredEnd = first < 0 ? Math.max(end, -first + TO_BE_SURE) : end;
  const mirroredFirst = end > height ? Math.min(first, 2 * height - end - TO_BE_SURE) : first;
  return [Math.max(0, mirroredFirst), Math.min(height, mirroredEnd)];
}

/**
 * The rows of every buffer that are needed for some rows of what the plan makes, by its operations from the last to the
 * first; a buffer that is not named is not needed at all.
 */
export function neededRows(plan: Plan, wanted: Rows, ofWarp: WarpReads): ReadonlyMap<number, Rows> {
  const needed = new Map<number, Rows>();
  const heightOf = (buffer: number) => plan.buffers[buffer]!.height;
  const last = plan.steps.at(-1);
  if (!last) return needed;
  needed.set(last.output, [Math.max(0, wanted[0]), Math.min(heightOf(last.output), wanted[1])]);
  const operations = plan.steps.flatMap((step) => step.operations);
  for (const operation of operations.toReversed()) {
    const { kernel, args, output, beside } = operation;
    const filled = beside === undefined ? [output] : [output, beside];
    const asked = filled.map((buffer) => needed.get(buffer)).filter((entry) => entry !== undefined);
    if (!asked.length) continue;
    const { reads: readsOf, readsByMap } = kernelDefinition(kernel);
    const isByRows = (readsByMap || readsOf) && operation.rows === heightOf(output);
    const rows: Rows = isByRows ? asked.reduce<Rows>((all, one) => joined(all, one), asked[0]!) : [0, operation.rows];
    for (const buffer of filled) needed.set(buffer, isByRows ? rows : [0, heightOf(buffer)]);
    const read = readsByMap && isByRows ? within(ofWarp(operation, rows), Number(args.height)) : null;
    const reads = read ? { planes: [read[0], read[1] + 2 * SURROUND] as const } : isByRows ? readsOf!(rows, args) : {};
    for (const [name, buffer] of buffersIn(kernel, args)) {
      if (buffer === output || buffer === beside) continue;
      const height = heightOf(buffer);
      const read = (reads as Record<string, Rows>)[name];
      needed.set(buffer, joined(needed.get(buffer), read ? within(read, height) : [0, height]));
    }
  }
  return needed;
}
