import { bindKernels, KERNELS, type Kernel, type KernelName } from "./kernels";

/**
 * A team shares one WebAssembly memory: the host, which runs a plan and takes its share of every operation, and helpers that
 * wait for work. An operation is handed over in a small shared control block; its rows are taken in bands, first come first
 * served. Which thread computes a row never changes the row.
 */
const CONTROL_WORDS = 16;
const MAXIMUM_ARGUMENTS = 32;
export const CONTROL_BYTES = CONTROL_WORDS * 4 + MAXIMUM_ARGUMENTS * 8;

const GENERATION = 0;
const KERNEL = 1;
const ARGUMENTS = 2;
const NEXT_BAND = 3;
const BAND_ROWS = 4;
const ROWS = 5;
const FINISHED = 6;
const QUIT = 7;
const FAILED = 8;

/** Pixels below which waking helpers costs more than it saves. */
const ALONE_BELOW = 1 << 14;
/** Bands a thread: enough to even out, few enough that the rows a filter reads around a band stay a small part of it. */
const BANDS_A_THREAD = 4;
const SMALLEST_BAND = 16;

export interface HelperStart {
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  control: SharedArrayBuffer;
  /** 1 for the first helper; the host is member 0. */
  member: number;
}

/** Where members keep their scratch rows; told through the arguments, so that it may move as memory grows. */
function runShare(kernels: Kernel[], words: Int32Array, values: Float64Array, member: number): void {
  const kernel = kernels[words[KERNEL]!]!;
  const count = words[ARGUMENTS]!;
  const args = Array.from(values.subarray(0, count));
  const scratch = values[count]! + member * values[count + 1]!;
  const rows = words[ROWS]!;
  const bandRows = words[BAND_ROWS]!;
  for (;;) {
    const first = Atomics.add(words, NEXT_BAND, 1) * bandRows;
    if (first >= rows) return;
    kernel(...args, scratch, first, Math.min(rows, first + bandRows));
  }
}

/** The helper's whole life: wait, take bands, report; until the team is dismissed. */
export function helperLoop(start: HelperStart): void {
  const kernels = bindKernels(start.module, start.memory);
  const words = new Int32Array(start.control, 0, CONTROL_WORDS);
  const values = new Float64Array(start.control, CONTROL_WORDS * 4);
  let seen = 0;
  for (;;) {
    Atomics.wait(words, GENERATION, seen);
    const generation = Atomics.load(words, GENERATION);
    if (generation === seen) continue;
    seen = generation;
    if (words[QUIT]) return;
    try {
      runShare(kernels, words, values, start.member);
    } catch {
      Atomics.store(words, FAILED, 1);
    }
    Atomics.add(words, FINISHED, 1);
    Atomics.notify(words, FINISHED);
  }
}

export class Team {
  readonly members: number;
  private readonly kernels: Kernel[];
  private readonly words: Int32Array;
  private readonly values: Float64Array;

  constructor(module: WebAssembly.Module, memory: WebAssembly.Memory, control: SharedArrayBuffer, helpers: number) {
    this.kernels = bindKernels(module, memory);
    this.words = new Int32Array(control, 0, CONTROL_WORDS);
    this.values = new Float64Array(control, CONTROL_WORDS * 4);
    this.members = helpers + 1;
  }

  /** Runs a kernel over `rows` rows. `rowPixels` is the work in a row; `scratch` is for member 0, others follow by stride. */
  run(kernel: KernelName, args: number[], rows: number, rowPixels: number, scratch: number, scratchStride: number): void {
    const { words, values } = this;
    values.set(args);
    values[args.length] = scratch;
    values[args.length + 1] = scratchStride;
    words[KERNEL] = KERNELS.indexOf(kernel);
    words[ARGUMENTS] = args.length;
    words[ROWS] = rows;
    const alone = this.members === 1 || rows * rowPixels < ALONE_BELOW;
    words[BAND_ROWS] = alone ? rows : Math.max(SMALLEST_BAND, Math.ceil(rows / (this.members * BANDS_A_THREAD)));
    Atomics.store(words, NEXT_BAND, 0);
    if (alone) {
      runShare(this.kernels, words, values, 0);
      return;
    }
    Atomics.store(words, FINISHED, 0);
    Atomics.add(words, GENERATION, 1);
    Atomics.notify(words, GENERATION);
    runShare(this.kernels, words, values, 0);
    const helpers = this.members - 1;
    for (let done = Atomics.load(words, FINISHED); done < helpers; done = Atomics.load(words, FINISHED)) {
      Atomics.wait(words, FINISHED, done);
    }
    if (Atomics.exchange(words, FAILED, 0)) throw new Error(`The kernel ${kernel} failed in a helper thread`);
  }

  dismiss(): void {
    this.words[QUIT] = 1;
    Atomics.add(this.words, GENERATION, 1);
    Atomics.notify(this.words, GENERATION);
  }
}
