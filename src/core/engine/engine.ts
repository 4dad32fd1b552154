import { buffersIn, encoded, OVERWRITES, type Table } from "./kernels";
import { Heap } from "./memory";
import {
  type BufferSpec,
  type Constant,
  type Operation,
  type Plan,
  SCRATCH_ROWS,
  type SourceRequest,
  type Step,
} from "./plan";
import { neededRows, type Rows, warpReads } from "./rows";
import type { Team } from "./team";

export class Superseded extends Error {
  constructor() {
    super("A newer request took this one's place");
  }
}

interface Kept {
  at: number;
  bytes: number;
  /** The rows that are there; all where it is left out. */
  rows?: Rows;
}

/** What is kept of a step of which only some rows were made. */
const partKey = (cacheKey: string) => `${cacheKey}\npart`;

/** The number of no buffer, and of no argument. */
const NONE = -1;
/** Constants kept at once; a plan has as many as it has resamplings. */
const CONSTANTS_KEPT = 12;
/** Rows of working room around a scratch row, px. */
const SCRATCH_MARGIN = 64;

/**
 * Runs plans on a team over one memory. The result of every step is kept, by its cache key, as long as `budget` bytes
 * allow, so that a plan that differs late starts late. Nothing here depends on where the threads run.
 */
export class Engine {
  readonly heap: Heap;
  private readonly kept = new Map<string, Kept>();
  private keptBytes = 0;
  /**
   * Buffers that depend on no pixel, apart from the rest: they are few, small, and wanted for every frame of a shot.
   */
  private readonly constants = new Map<string, number>();
  private scratch = { at: 0, stride: 0 };
  private tables = { at: 0, bytes: 0 };

  constructor(
    memory: WebAssembly.Memory,
    private readonly team: Team,
    private readonly budget: number,
  ) {
    this.heap = new Heap(memory);
  }

  has(cacheKey: string): boolean {
    return this.kept.has(cacheKey);
  }

  /**
   * Runs a plan and returns a view of the last step's buffer, valid until the next call. `source` is asked for only
   * when no kept step makes it unnecessary, and with a request for further pixels. `superseded` is asked between
   * operations; when it answers true, Superseded is thrown. `wanted`: rows of the result that are made; the others hold
   * nothing then. Left out, all are.
   */
  run(
    plan: Plan,
    source: (request?: SourceRequest) => Float32Array,
    superseded: () => boolean = () => false,
    wanted?: Rows,
  ): Uint8Array {
    const needed = wanted && this.rowsNeeded(plan, wanted);
    let first = plan.steps.length;
    while (first > 0 && !this.keyOfKept(plan.steps[first - 1]!, needed)) first--;
    if (first < plan.steps.length) this.compute(plan, first, source, superseded, needed);
    const last = plan.steps.at(-1);
    const { at, bytes } = this.touch(last ? this.keyOfKept(last, needed)! : plan.sourceKey);
    return new Uint8Array(this.heap.memory.buffer, at, bytes);
  }

  /**
   * The rows of every buffer that some rows of the result need. Maps of resamplings are made for it: they say how far
   * light comes.
   */
  private rowsNeeded(plan: Plan, wanted: Rows): ReadonlyMap<number, Rows> {
    const tableAt = this.placeTables(plan);
    this.prepareScratch(plan);
    const places = new Map<number, number>();
    for (const constant of plan.constants) this.provide(plan, constant, places, tableAt);
    return neededRows(plan, wanted, ({ args }, rows) => {
      const { map, columns, spacing } = args as { map: number | Table; columns: number; spacing: number };
      const nodes =
        typeof map === "number"
          ? this.floatsOf(plan.buffers[map]!, places.get(map)!)
          : new Float32Array(plan.tables[map.table]!.buffer);
      return warpReads(nodes, columns, spacing, rows);
    });
  }

  private floatsOf({ width, height, pixelBytes }: BufferSpec, at: number): Float32Array {
    return new Float32Array(
      this.heap.memory.buffer,
      at,
      (width * height * pixelBytes) / Float32Array.BYTES_PER_ELEMENT,
    );
  }

  /** The key under which all of a step's result is kept, or what of it is needed; undefined where it is not. */
  private keyOfKept({ cacheKey, output }: Step, needed?: ReadonlyMap<number, Rows>): string | undefined {
    if (this.kept.has(cacheKey)) return cacheKey;
    const rows = needed?.get(output);
    if (!rows) return undefined;
    const partly = partKey(cacheKey);
    const found = this.kept.get(partly)?.rows;
    return found && found[0] <= rows[0] && found[1] >= rows[1] ? partly : undefined;
  }

  /** Puts a source frame (RGBA float32) in memory under its cache key, unless it is there. */
  load(cacheKey: string, source: () => Float32Array): void {
    if (this.kept.has(cacheKey)) return;
    const pixels = source();
    const at = this.heap.allocate(pixels.byteLength);
    new Float32Array(this.heap.memory.buffer, at, pixels.length).set(pixels);
    this.keep(cacheKey, { at, bytes: pixels.byteLength }, new Set([cacheKey]));
  }

  private compute(
    plan: Plan,
    first: number,
    source: (request?: SourceRequest) => Float32Array,
    superseded: () => boolean,
    needed?: ReadonlyMap<number, Rows>,
  ): void {
    this.prepareScratch(plan);
    const tableAt = this.placeTables(plan);
    const places = new Map<number, number>();
    const protect = new Set<string>();
    // A frame's room in bytes is what a step may need beyond what is kept.
    const bytesOf = (id: number) => {
      const spec = plan.buffers[id]!;
      return spec.width * spec.height * spec.pixelBytes;
    };
    let cacheKey = first ? this.keyOfKept(plan.steps[first - 1]!, needed)! : plan.sourceKey;
    let input = first ? plan.steps[first - 1]!.output : 0;
    if (!first) this.load(cacheKey, source);
    places.set(input, this.touch(cacheKey).at);
    // Further pixels live for this run only.
    const brought = new Set(plan.extras.map(({ buffer }) => buffer));
    for (const { buffer, request } of plan.extras) {
      const pixels = source(request);
      const at = this.heap.allocate(pixels.byteLength);
      new Float32Array(this.heap.memory.buffer, at, pixels.length).set(pixels);
      places.set(buffer, at);
    }
    for (const constant of plan.constants) this.provide(plan, constant, places, tableAt);
    const constants = new Set(plan.constants.map(({ operation }) => operation.output));
    const done = lastReads(plan, first);
    let time = 0;
    try {
      for (let s = first; s < plan.steps.length; s++) {
        const step = plan.steps[s]!;
        for (const operation of step.operations) {
          if (superseded()) throw new Superseded();
          time++;
          const rows = rowsToFill(operation, plan, needed);
          const isNew = !places.has(operation.output);
          const used = isNew
            ? overwritten(
                operation,
                plan,
                (id) =>
                  done[time]!.includes(id) && !constants.has(id) && !brought.has(id) && (id !== input || !this.budget),
              )
            : NONE;
          if (isNew) places.set(operation.output, places.get(used) ?? this.heap.allocate(bytesOf(operation.output)));
          if (operation.beside !== undefined)
            places.set(operation.beside, this.heap.allocate(bytesOf(operation.beside)));
          if (used !== NONE && used === input) {
            this.forget(cacheKey);
            input = NONE;
          }
          this.perform(operation, places, tableAt, rows);
          places.delete(used);
          for (const id of done[time]!) {
            if (id === input || id === step.output || constants.has(id) || brought.has(id) || !places.has(id)) continue;
            this.heap.release(places.get(id)!);
            places.delete(id);
          }
        }
        // What is still held in this step beyond its result was only passed through it.
        for (const [id, at] of places) {
          if (id === step.output || id === input || constants.has(id) || brought.has(id)) continue;
          this.heap.release(at);
          places.delete(id);
        }
        places.delete(input);
        const rows = needed?.get(step.output);
        const isWhole = !rows || (rows[0] === 0 && rows[1] === plan.buffers[step.output]!.height);
        cacheKey = isWhole ? step.cacheKey : partKey(step.cacheKey);
        protect.clear();
        protect.add(cacheKey);
        const entry = { at: places.get(step.output)!, bytes: bytesOf(step.output) };
        this.keep(cacheKey, isWhole ? entry : { ...entry, rows }, protect);
        input = step.output;
      }
      for (const id of brought) this.heap.release(places.get(id)!);
    } catch (error) {
      for (const [id, at] of places) if (id !== input && !constants.has(id)) this.heap.release(at);
      throw error;
    }
  }

  private provide(plan: Plan, { cacheKey, operation }: Constant, places: Map<number, number>, tableAt: number[]): void {
    const id = operation.output;
    const found = this.constants.get(cacheKey);
    if (found !== undefined) {
      places.set(id, found);
      return;
    }
    for (const [old, at] of this.constants) {
      if (this.constants.size < CONSTANTS_KEPT) break;
      this.heap.release(at);
      this.constants.delete(old);
    }
    const { width, height, pixelBytes } = plan.buffers[id]!;
    places.set(id, this.heap.allocate(width * height * pixelBytes));
    this.constants.set(cacheKey, places.get(id)!);
    this.perform(operation, places, tableAt);
  }

  private perform(
    operation: Operation,
    places: Map<number, number>,
    tableAt: number[],
    rows: Rows = [0, operation.rows],
  ): void {
    const { kernel, args, rowPixels } = operation;
    if (rows[1] <= rows[0]) return;
    const numbers = encoded(kernel, args, (buffer) => places.get(buffer)!, tableAt);
    this.team.run(kernel, numbers, rows, rowPixels, this.scratch.at, this.scratch.stride);
  }

  private prepareScratch(plan: Plan): void {
    const stride = (plan.width + SCRATCH_MARGIN) * 16 * SCRATCH_ROWS;
    if (this.scratch.stride >= stride) return;
    if (this.scratch.at) this.heap.release(this.scratch.at);
    this.scratch = { at: this.heap.allocate(stride * this.team.members), stride };
  }

  /** Tables live for one run; programs that point at other tables are patched here, where addresses are known. */
  private placeTables(plan: Plan): number[] {
    const total = plan.tables.reduce((sum, table) => sum + Math.ceil(table.byteLength / 16) * 16, 0);
    if (this.tables.bytes < total) {
      if (this.tables.at) this.heap.release(this.tables.at);
      this.tables = { at: this.heap.allocate(total * 2), bytes: total * 2 };
    }
    const bytes = new Uint8Array(this.heap.memory.buffer);
    let at = this.tables.at;
    return plan.tables.map((table) => {
      const here = at;
      bytes.set(table, here);
      at += Math.ceil(table.byteLength / 16) * 16;
      return here;
    });
  }

  /** Lets go of a step's result without giving its room back. */
  private forget(cacheKey: string): void {
    this.keptBytes -= this.kept.get(cacheKey)!.bytes;
    this.kept.delete(cacheKey);
  }

  private touch(cacheKey: string): Kept {
    const found = this.kept.get(cacheKey)!;
    this.kept.delete(cacheKey);
    this.kept.set(cacheKey, found);
    return found;
  }

  private keep(cacheKey: string, entry: Kept, protect: Set<string>): void {
    // Other rows of the same, or all of it once there was a part.
    const before = this.kept.get(cacheKey);
    if (before) {
      this.forget(cacheKey);
      this.heap.release(before.at);
    }
    this.kept.set(cacheKey, entry);
    this.keptBytes += entry.bytes;
    for (const [old, { at, bytes }] of this.kept) {
      if (this.keptBytes <= this.budget) break;
      if (protect.has(old)) continue;
      this.kept.delete(old);
      this.keptBytes -= bytes;
      this.heap.release(at);
    }
  }
}

/**
 * The buffer whose room an operation's result may take, or none: one of the same size that it reads row by row, through
 * one argument, and that `isDone` after it.
 */
function overwritten({ kernel, args, output }: Operation, { buffers }: Plan, isDone: (id: number) => boolean): number {
  const read = buffersIn(kernel, args);
  const [, candidate = NONE] = read.find(([name]) => name === OVERWRITES[kernel]) ?? [];
  if (candidate === NONE || !isDone(candidate)) return NONE;
  const isReadOnce = read.filter(([, id]) => id === candidate).length === 1;
  const [from, to] = [buffers[candidate]!, buffers[output]!];
  return isReadOnce && from.width === to.width && from.height === to.height && from.pixelBytes === to.pixelBytes
    ? candidate
    : NONE;
}

/** The rows an operation has to fill: of its output, and of what it fills on the way. None where nothing needs them. */
function rowsToFill({ output, beside, rows }: Operation, { buffers }: Plan, needed?: ReadonlyMap<number, Rows>): Rows {
  if (!needed || rows !== buffers[output]!.height) return [0, rows];
  const [own, further] = [needed.get(output), beside === undefined ? undefined : needed.get(beside)];
  const asked = [own, further].filter((entry) => entry !== undefined);
  return [Math.min(rows, ...asked.map(([first]) => first)), Math.max(0, ...asked.map(([, end]) => end))];
}

/**
 * The buffers that nothing reads any more after an operation, by the operations done until then (from step `first` on).
 */
function lastReads(plan: Plan, first: number): number[][] {
  const until = new Map<number, number>();
  let time = 0;
  for (const step of plan.steps.slice(first)) {
    for (const { kernel, args } of step.operations) {
      time++;
      for (const [, buffer] of buffersIn(kernel, args)) until.set(buffer, time);
    }
  }
  const done: number[][] = Array.from({ length: time + 1 }, () => []);
  for (const [id, last] of until) done[last]!.push(id);
  return done;
}
