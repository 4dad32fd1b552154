import { KERNEL_NAMES, type KernelName, type Rows } from "./kernels";
import { bindKernels, type Kernel } from "./module";

/**
 * A team shares one WebAssembly memory: the host, which runs a plan and takes its share of every operation, and helpers
 * that wait for work. An operation is handed over in a small shared control block; its rows are taken in bands, first
 * come first served. Which thread computes a row never changes the row.
 */
const CONTROL_WORDS = 16;
const MAXIMUM_ARGUMENTS = 32;
export const CONTROL_BYTES = CONTROL_WORDS * 4 + MAXIMUM_ARGUMENTS * 8;

const GENERATION = 0;
const KERNEL = 1;
const ARGUMENTS = 2;
const NEXT_ROW = 3;
const MIN_ROWS = 4;
const ROWS = 5;
const FINISHED = 6;
const QUIT = 7;
const FAILED = 8;
const MEMBERS = 9;

/** Pixels below which waking helpers costs more than it saves. */
const ALONE_BELOW = 1 << 12;
/**
 * A band is a thread's part of what is left, over this: the first are long, for a filter reads rows around each; the
 * last are short and even out.
 */
const SHARE_OF_THE_REST = 1.6;
const MIN_BAND = 16;
/** Readings of a word before a thread goes to sleep over it: about as long as waking it would take. */
const SPIN_COUNT = 3000;

export interface HelperStart {
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  control: SharedArrayBuffer;
  /** 1 for the first helper; the host is member 0. */
  member: number;
}

/** Waits until a word is no longer `value`: awake at first, for the next operation follows the last one closely. */
function whileStill(words: Int32Array, index: number, value: number): void {
  for (let i = 0; i < SPIN_COUNT; i++) if (Atomics.load(words, index) !== value) return;
  Atomics.wait(words, index, value);
}

/** Takes the next band of an operation: its first row and the row after its last, or null when none is left. */
function takeBand(words: Int32Array, members: number): [number, number] | null {
  for (;;) {
    const first = Atomics.load(words, NEXT_ROW);
    const left = words[ROWS]! - first;
    if (left <= 0) return null;
    const end = first + Math.min(left, Math.max(words[MIN_ROWS]!, Math.ceil(left / (members * SHARE_OF_THE_REST))));
    if (Atomics.compareExchange(words, NEXT_ROW, first, end) === first) return [first, end];
  }
}

/** Where members keep their scratch rows; told through the arguments, so that it may move as memory grows. */
function runShare(kernels: Kernel[], words: Int32Array, values: Float64Array, member: number): void {
  const kernel = kernels[words[KERNEL]!]!;
  const count = words[ARGUMENTS]!;
  const args = Array.from(values.subarray(0, count));
  const scratch = values[count]! + member * values[count + 1]!;
  for (let band = takeBand(words, words[MEMBERS]!); band; band = takeBand(words, words[MEMBERS]!))
    kernel(...args, scratch, ...band);
}

/** The helper's whole life: wait, take bands, report; until the team is dismissed. */
export function helperLoop(start: HelperStart): void {
  const kernels = bindKernels(start.module, start.memory);
  const words = new Int32Array(start.control, 0, CONTROL_WORDS);
  const values = new Float64Array(start.control, CONTROL_WORDS * 4);
  let seen = 0;
  for (;;) {
    whileStill(words, GENERATION, seen);
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

  /**
   * Runs a kernel over rows, from the first to the one before `end`. `rowPixels` is the work in a row; `scratch` is for
   * member 0, others follow by stride.
   */
  run(
    kernel: KernelName,
    args: number[],
    [first, end]: Rows,
    rowPixels: number,
    scratch: number,
    scratchStride: number,
  ): void {
    const { words, values } = this;
    values.set(args);
    values[args.length] = scratch;
    values[args.length + 1] = scratchStride;
    words[KERNEL] = KERNEL_NAMES.indexOf(kernel);
    words[ARGUMENTS] = args.length;
    words[ROWS] = end;
    const alone = this.members === 1 || (end - first) * rowPixels < ALONE_BELOW;
    words[MIN_ROWS] = alone ? end - first : MIN_BAND;
    words[MEMBERS] = this.members;
    Atomics.store(words, NEXT_ROW, first);
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
      whileStill(words, FINISHED, done);
    }
    if (Atomics.exchange(words, FAILED, 0)) throw new Error(`The kernel ${kernel} failed in a helper thread`);
  }

  dismiss(): void {
    this.words[QUIT] = 1;
    Atomics.add(this.words, GENERATION, 1);
    Atomics.notify(this.words, GENERATION);
  }
}
