/**
 * What an argument of a kernel is: pixels in a buffer ("?": or none), a table, either; or a number, in its unit. Flags
 * go as 0 and 1.
 */
export type ArgumentKind = "buffer" | "buffer?" | "table" | "table?" | "pixels" | "px" | "count" | "ratio" | "flag";

/** A table of a plan, by its number. */
export interface Table {
  table: number;
}

/** Size of a buffer, px; and where the frame's edge lies in it, in its cells. */
const SIZE = { width: "px", height: "px" } as const;
const EDGES = { edgeX: "px", edgeY: "px" } as const;

/**
 * The kernels of `assembly/`, by the names the module exports them under: their arguments in the order in which they
 * are handed over, each with its kind. `out` is what they fill. Every one ends in (scratch, firstRow, endRow), which
 * the team adds.
 */
export const KERNELS = {
  blur: {
    source: "buffer",
    out: "buffer",
    ...SIZE,
    ...EDGES,
    radiusX: "px",
    radiusY: "px",
    taps: "table",
    black: "flag",
    key: "table?",
  },
  blurTwice: { source: "buffer", first: "buffer", out: "buffer", ...SIZE, taps: "table" },
  reduce: {
    source: "buffer",
    out: "buffer",
    ...SIZE,
    ...EDGES,
    halveX: "flag",
    halveY: "flag",
    black: "flag",
    key: "table?",
  },
  gather: {
    coarse: "buffer?",
    coarseWidth: "px",
    coarseHeight: "px",
    ...EDGES,
    planeA: "buffer?",
    planeB: "buffer?",
    planeC: "buffer?",
    under: "buffer?",
    out: "buffer",
    ...SIZE,
    doubleX: "flag",
    doubleY: "flag",
    weights: "table",
  },
  mixCells: {
    source: "buffer",
    sum: "buffer?",
    out: "buffer",
    ...SIZE,
    columns: "table",
    rows: "table",
    weight: "table",
  },
  smearRows: { source: "buffer", out: "buffer", ...SIZE, decay: "table", lead: "px", black: "flag" },
  pointwise: {
    source: "buffer",
    other: "buffer?",
    third: "buffer?",
    out: "buffer",
    width: "px",
    program: "table",
    operations: "count",
  },
  geometryMap: { out: "buffer", columns: "count", spacing: "px", record: "table", lateral: "table" },
  split: { source: "buffer", out: "buffer", ...SIZE, black: "flag" },
  warp: {
    source: "buffer",
    planes: "buffer",
    out: "buffer",
    ...SIZE,
    outWidth: "px",
    map: "pixels",
    columns: "count",
    spacing: "px",
    black: "flag",
    spectrum: "table",
  },
  crop: { source: "buffer", out: "buffer", width: "px", outWidth: "px", left: "px", top: "px" },
  drawApart: { source: "buffer", planes: "buffer", out: "buffer", ...SIZE, copies: "table" },
  resize: { source: "pixels", out: "buffer", width: "px", outWidth: "px", across: "table", down: "table" },
  contrast: {
    sharp: "buffer",
    blurred: "buffer",
    blurredTwice: "buffer",
    low: "buffer",
    lowWidth: "px",
    lowHeight: "px",
    ...EDGES,
    out: "buffer",
    ...SIZE,
    record: "table",
  },
  contrastLow: {
    sharp: "buffer",
    blurred: "buffer",
    blurredTwice: "buffer",
    out: "buffer",
    ...SIZE,
    record: "table",
  },
  pupilPlanes: {
    source: "buffer",
    depth: "buffer?",
    out: "buffer",
    ...SIZE,
    surround: "px",
    record: "table",
    black: "flag",
  },
  pupilReach: { planes: "buffer", out: "buffer", ...SIZE, surround: "px", record: "table" },
  iris: { planes: "buffer", reach: "buffer", out: "buffer", ...SIZE, surround: "px", record: "table" },
  arc: { source: "buffer", out: "buffer", ...SIZE, record: "table" },
  skew: { source: "buffer", ...SIZE, out: "buffer", outWidth: "px", slope: "ratio", shift: "px", transpose: "flag" },
  unskew: {
    skewed: "buffer",
    skewedWidth: "px",
    skewedHeight: "px",
    sum: "buffer?",
    out: "buffer",
    width: "px",
    slope: "ratio",
    shift: "px",
    transpose: "flag",
    weight: "table",
  },
  count: {
    source: "buffer",
    out: "buffer",
    width: "px",
    left: "px",
    top: "px",
    right: "px",
    bottom: "px",
    columns: "count",
    levels: "count",
    vectors: "count",
    stops: "table?",
  },
  trailRows: { source: "buffer", out: "buffer", width: "px", decay: "table", backward: "flag" },
} as const satisfies Record<string, Readonly<Record<string, ArgumentKind>>>;
export type KernelName = keyof typeof KERNELS;
export const KERNEL_NAMES = Object.keys(KERNELS) as KernelName[];

type ValueOf<K extends ArgumentKind> = K extends "buffer"
  ? number
  : K extends "buffer?"
    ? number | null
    : K extends "table"
      ? Table
      : K extends "table?"
        ? Table | null
        : K extends "pixels"
          ? number | Table
          : K extends "flag"
            ? boolean
            : number;

/** The arguments of a kernel, by name; buffers by their numbers in the plan. */
export type ArgumentsOf<K extends KernelName> = {
  -readonly [N in keyof (typeof KERNELS)[K]]: (typeof KERNELS)[K][N] extends ArgumentKind
    ? ValueOf<(typeof KERNELS)[K][N]>
    : never;
};
export type Value = number | boolean | null | Table;

const isBuffer = (kind: ArgumentKind, value: Value | undefined): value is number =>
  (kind === "buffer" || kind === "buffer?" || kind === "pixels") && typeof value === "number";

/** The buffers among a kernel's arguments, by the arguments' names: what is read and what is filled. */
export const buffersIn = (kernel: KernelName, args: Readonly<Record<string, Value>>): [string, number][] =>
  Object.entries<ArgumentKind>(KERNELS[kernel]).flatMap(([name, kind]) => {
    const value = args[name];
    return isBuffer(kind, value) ? [[name, value] as [string, number]] : [];
  });

/**
 * Arguments as the compiled module takes them: numbers in its order, with addresses for buffers and tables; 0 for none.
 */
export function encoded(
  kernel: KernelName,
  args: Readonly<Record<string, Value>>,
  addressOf: (buffer: number) => number,
  tableAt: readonly number[],
): number[] {
  return Object.entries<ArgumentKind>(KERNELS[kernel]).map(([name, kind]) => {
    const value = args[name];
    if (isBuffer(kind, value)) return addressOf(value);
    return typeof value === "object" && value !== null ? tableAt[value.table]! : Number(value);
  });
}

/** The argument whose row these kernels read no later than they write the same row: the result may take its room. */
export const OVERWRITES: Partial<Record<KernelName, string>> = { pointwise: "source", gather: "under" };
/** A further buffer that a kernel fills on the way. */
export const BESIDE: Partial<Record<KernelName, string>> = { blurTwice: "first" };
export type Kernel = (...args: number[]) => void;

const PAGE = 65536;
/** The address space of 32-bit WebAssembly, in pages; the module is built with the same figure. */
const MAXIMUM_PAGES = 65536;
/** Initial pages, the same as the module's own import declares. */
const INITIAL_PAGES = 16;

export function createMemory(): WebAssembly.Memory {
  return new WebAssembly.Memory({ initial: INITIAL_PAGES, maximum: MAXIMUM_PAGES, shared: true });
}

/** Grows a memory to at least `bytes`. Throws a RangeError that says how much was asked for when it cannot. */
export function growTo(memory: WebAssembly.Memory, bytes: number): void {
  const missing = Math.ceil(bytes / PAGE) - memory.buffer.byteLength / PAGE;
  if (missing <= 0) return;
  try {
    memory.grow(missing);
  } catch {
    throw new RangeError(`The engine needs ${Math.ceil(bytes / 2 ** 20)} MiB of memory and could not get it`);
  }
}

export function bindKernels(module: WebAssembly.Module, memory: WebAssembly.Memory): Kernel[] {
  const { exports } = new WebAssembly.Instance(module, { env: { memory } });
  return KERNEL_NAMES.map((name) => exports[name] as Kernel);
}
