import { encoded, type Rows, type TableRef } from "./kernels";
import { lifetimesOf, type Stage, type Turn } from "./lifetimes";
import { Heap } from "./memory";
import { type BufferSpec, type Constant, type Operation, type Plan, SCRATCH_ROWS, type SourceRequest } from "./plan";
import { neededRows, warpReads } from "./rows";
import { StepCache } from "./step-cache";
import type { Team } from "./team";

export class Superseded extends Error {
  constructor() {
    super("A newer request took this one's place");
  }
}

/** Constants cached at once, unless a plan has more: it has one for each of its resamplings. */
const MAX_CONSTANTS = 12;
/** Working room around a scratch row, px. */
const SCRATCH_MARGIN = 64;

const bytesOf = ({ width, height, pixelBytes }: BufferSpec) => width * height * pixelBytes;

/** Pixels of a plan's source, or with a request further ones: RGBA float32 in working light. */
export type SourceOf = (request?: SourceRequest) => Float32Array;

/** Where the buffers and tables of a plan are in memory, bytes. */
interface Addresses {
  buffers: Map<number, number>;
  tables: number[];
}

/**
 * Runs plans on a team over one memory. The result of every step is cached as long as `budget` bytes allow, so that a
 * plan that differs late starts late. Nothing here depends on where the threads run.
 */
export class Engine {
  readonly heap: Heap;
  private readonly cache: StepCache;
  /**
   * Buffers that depend on no pixel, apart from the rest: they are few, small, and wanted for every frame of a shot.
   */
  private readonly constants = new Map<string, number>();
  /** Room that was given out, and its address. */
  private readonly reserved = new Map<Float32Array, number>();
  /** The key under which the last run's result is cached. */
  private lastResult = "";
  private scratch = { at: 0, stride: 0 };
  private tables = { at: 0, bytes: 0 };

  constructor(
    memory: WebAssembly.Memory,
    private readonly team: Team,
    private readonly budget: number,
  ) {
    this.heap = new Heap(memory);
    this.cache = new StepCache(this.heap, budget);
  }

  has(cacheKey: string): boolean {
    return this.cache.has(cacheKey);
  }

  /**
   * Runs a plan and returns a view of the last step's buffer, valid until the next call. `source` is asked for only
   * when no cached step makes it unnecessary, and with a request for further pixels. `superseded` is asked between
   * operations; when it answers true, Superseded is thrown. `wanted`: rows of the result to compute; the others are
   * left unset. Default: all.
   */
  run(plan: Plan, source: SourceOf, superseded: () => boolean = () => false, wanted?: Rows): Uint8Array {
    const needed = wanted && this.rowsNeeded(plan, wanted);
    const cached = (step: Plan["steps"][number]) => this.cache.find(step.cacheKey, needed?.get(step.output));
    let first = plan.steps.length;
    while (first > 0 && !cached(plan.steps[first - 1]!)) first--;
    const before = first ? cached(plan.steps[first - 1]!)! : plan.sourceKey;
    this.lastResult =
      first < plan.steps.length ? this.compute(plan, first, before, source, superseded, needed) : before;
    const { at, bytes } = this.cache.use(this.lastResult);
    return new Uint8Array(this.heap.memory.buffer, at, bytes);
  }

  /**
   * The rows of every buffer that some rows of the result need. Maps of resamplings are made for it: they say how far
   * light comes.
   */
  private rowsNeeded(plan: Plan, wanted: Rows): ReadonlyMap<number, Rows> {
    const addresses = this.prepare(plan);
    for (const constant of plan.constants) this.provide(plan, constant, addresses);
    return neededRows(plan, wanted, ({ args }, rows) => {
      const { map, columns, spacing } = args as { map: number | TableRef; columns: number; spacing: number };
      const nodes =
        typeof map === "number"
          ? this.floatsOf(plan.buffers[map]!, addresses.buffers.get(map)!)
          : new Float32Array(plan.tables[map.table]!.buffer);
      return warpReads(nodes, columns, spacing, rows);
    });
  }

  private floatsOf(spec: BufferSpec, at: number): Float32Array {
    return new Float32Array(this.heap.memory.buffer, at, bytesOf(spec) / Float32Array.BYTES_PER_ELEMENT);
  }

  /** Puts a source frame (RGBA float32) in memory under its cache key, unless it is there. */
  load(cacheKey: string, source: () => Float32Array): void {
    if (this.cache.has(cacheKey)) return;
    const pixels = source();
    const bytes = pixels.byteLength;
    this.cache.makeRoom(bytes);
    this.cache.add(cacheKey, { at: this.put(pixels), bytes });
  }

  /**
   * Room for a frame's samples in the engine's own memory: `run` takes it as a source without copying it, and it is the
   * engine's from then on. Until then it may be filled at any time, and is to be released where no run takes it.
   */
  reserve(samples: number): Float32Array {
    const at = this.heap.allocate(samples * Float32Array.BYTES_PER_ELEMENT);
    const room = new Float32Array(this.heap.memory.buffer, at, samples);
    this.reserved.set(room, at);
    return room;
  }

  /** The last run's result, where it lies, for whoever asks: it stands until it is released. */
  keep(): Float32Array {
    const { at, bytes } = this.cache.use(this.lastResult);
    this.cache.release(this.lastResult);
    const result = new Float32Array(this.heap.memory.buffer, at, bytes / Float32Array.BYTES_PER_ELEMENT);
    this.reserved.set(result, at);
    return result;
  }

  /** Gives reserved or kept room back, unless a run took it. */
  release(room: Float32Array): void {
    const at = this.reserved.get(room);
    if (at === undefined) return;
    this.reserved.delete(room);
    this.heap.release(at);
  }

  private put(pixels: Float32Array): number {
    const reserved = this.reserved.get(pixels);
    if (reserved !== undefined) {
      this.reserved.delete(pixels);
      return reserved;
    }
    const at = this.heap.allocate(pixels.byteLength);
    new Float32Array(this.heap.memory.buffer, at, pixels.length).set(pixels);
    return at;
  }

  /** Runs a plan from step `first` on, whose input is cached under a key; gives the last result's key. */
  private compute(
    plan: Plan,
    first: number,
    inputKey: string,
    source: SourceOf,
    superseded: () => boolean,
    needed?: ReadonlyMap<number, Rows>,
  ): string {
    const addresses = this.prepare(plan);
    const input = first ? plan.steps[first - 1]!.output : 0;
    if (!first) this.load(inputKey, source);
    addresses.buffers.set(input, this.cache.use(inputKey).at);
    // Further pixels live for this run only.
    const extras = plan.extras.map(({ buffer, request }) => {
      addresses.buffers.set(buffer, this.put(source(request)));
      return buffer;
    });
    for (const constant of plan.constants) this.provide(plan, constant, addresses);
    const lasting = new Set([input, ...plan.constants.map(({ operation }) => operation.output)]);
    let state = { key: inputKey, buffer: input };
    try {
      for (const stage of lifetimesOf(plan, first, input, this.budget > 0, needed)) {
        this.runStage(plan, stage, state, addresses, superseded);
        // Its room is the cache's, which may give it away from now on.
        lasting.delete(state.buffer);
        if (state.buffer !== stage.step.output) addresses.buffers.delete(state.buffer);
        state = this.cacheResult(plan, stage, addresses, needed);
        lasting.add(state.buffer);
      }
      this.free(extras, addresses);
      return state.key;
    } catch (error) {
      this.free(
        [...addresses.buffers.keys()].filter((id) => !lasting.has(id)),
        addresses,
      );
      throw error;
    }
  }

  private runStage(
    plan: Plan,
    { turns, releases }: Stage,
    input: { key: string; buffer: number },
    addresses: Addresses,
    superseded: () => boolean,
  ): void {
    for (const turn of turns) {
      if (superseded()) throw new Superseded();
      this.makeRoom(plan, turn, addresses);
      const isTaken = turn.overwrites === input.buffer || turn.releases.includes(input.buffer);
      if (isTaken) this.cache.release(input.key);
      this.perform(turn.operation, addresses, turn.rows);
      if (turn.overwrites !== null) addresses.buffers.delete(turn.overwrites);
      this.free(turn.releases, addresses);
    }
    this.free(releases, addresses);
  }

  private makeRoom(plan: Plan, { operation, allocates, overwrites }: Turn, { buffers }: Addresses): void {
    if (overwrites !== null) buffers.set(operation.output, buffers.get(overwrites)!);
    for (const id of allocates) buffers.set(id, this.heap.allocate(bytesOf(plan.buffers[id]!)));
  }

  private free(ids: number[], { buffers }: Addresses): void {
    for (const id of ids) {
      this.heap.release(buffers.get(id)!);
      buffers.delete(id);
    }
  }

  /** Hands the result of a stage over to the cache, which what comes after reads it from. */
  private cacheResult(
    plan: Plan,
    { step: { cacheKey, output } }: Stage,
    { buffers }: Addresses,
    needed?: ReadonlyMap<number, Rows>,
  ): { key: string; buffer: number } {
    const rows = needed?.get(output);
    const spec = plan.buffers[output]!;
    const isWhole = !rows || (rows[0] === 0 && rows[1] === spec.height);
    const entry = { at: buffers.get(output)!, bytes: bytesOf(spec) };
    return { key: this.cache.add(cacheKey, isWhole ? entry : { ...entry, rows }), buffer: output };
  }

  private provide(plan: Plan, { cacheKey, operation }: Constant, addresses: Addresses): void {
    const id = operation.output;
    const found = this.constants.get(cacheKey);
    if (found !== undefined) {
      addresses.buffers.set(id, found);
      return;
    }
    const inUse = new Set(addresses.buffers.values());
    for (const [old, at] of this.constants) {
      if (this.constants.size < MAX_CONSTANTS) break;
      if (inUse.has(at)) continue;
      this.heap.release(at);
      this.constants.delete(old);
    }
    addresses.buffers.set(id, this.heap.allocate(bytesOf(plan.buffers[id]!), { lasts: true }));
    this.constants.set(cacheKey, addresses.buffers.get(id)!);
    this.perform(operation, addresses);
  }

  private perform(operation: Operation, { buffers, tables }: Addresses, rows: Rows = [0, operation.rows]): void {
    const { kernel, args, rowPixels } = operation;
    if (rows[1] <= rows[0]) return;
    const numbers = encoded(kernel, args, (buffer) => buffers.get(buffer)!, tables);
    this.team.run(kernel, numbers, rows, rowPixels, this.scratch.at, this.scratch.stride);
  }

  /** Room for a plan's scratch rows and tables, both of which live for one run. */
  private prepare(plan: Plan): Addresses {
    const stride = (plan.width + SCRATCH_MARGIN) * 16 * SCRATCH_ROWS;
    if (this.scratch.stride < stride) {
      if (this.scratch.at) this.heap.release(this.scratch.at);
      this.scratch = { at: this.heap.allocate(stride * this.team.members, { lasts: true }), stride };
    }
    return { buffers: new Map(), tables: this.placeTables(plan) };
  }

  private placeTables(plan: Plan): number[] {
    const total = plan.tables.reduce((sum, table) => sum + Math.ceil(table.byteLength / 16) * 16, 0);
    if (this.tables.bytes < total) {
      if (this.tables.at) this.heap.release(this.tables.at);
      this.tables = { at: this.heap.allocate(total * 2, { lasts: true }), bytes: total * 2 };
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
}
