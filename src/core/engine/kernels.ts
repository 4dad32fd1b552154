/**
 * What an argument of a kernel is: pixels in a buffer ("?": or none), a table, either; or a number, in its unit. Flags
 * go as 0 and 1.
 */
export type ArgumentKind = "buffer" | "buffer?" | "table" | "table?" | "pixels" | "px" | "count" | "ratio" | "flag";

/** A table of a plan, by its number. */
export interface TableRef {
  table: number;
}

/** Rows of a buffer, from the first to the one before the end. */
export type Rows = readonly [first: number, end: number];

/** A kernel of `assembly/`: what it takes, and what of it stands where. */
interface KernelDefinition {
  /** Its arguments in the order in which they are handed over. `out` is what it fills. */
  takes: Readonly<Record<string, ArgumentKind>>;
  /**
   * The rows it reads of each argument for the rows it fills; of what is not named, and where this is left out, all.
   */
  reads?: (rows: Rows, args: Readonly<Record<string, Value>>) => Readonly<Record<string, Rows>>;
  /** Which rows it reads is said by the nodes of its map (engine/rows.ts). */
  readsByMap?: boolean;
  /** The argument whose row it reads no later than it writes the same row: the result may take its room. */
  overwrites?: string;
  /** A further buffer it fills on the way. */
  alsoFills?: string;
}

/** Rows the two blurs of `blurTwice` read around a row, and those `contrast` does. */
const BLUR_TWICE_REACH = 4;
const CONTRAST_REACH = 1;
/** Rows of surround around the planes the warp reads (spread/resample.ts). */
export const SURROUND = 8;

const around = ([first, end]: Rows, by: number): Rows => [first - by, end + by];
/** Rows of a level at half the size that an expansion of these reads. */
const halved = ([first, end]: Rows): Rows => [(first >> 1) - 1, (end >> 1) + 2];
/** Rows of a level at twice the size that a reduction to these reads. */
const doubled = ([first, end]: Rows): Rows => [2 * first - 2, 2 * end + 2];

/** Size of a buffer, px; and where the frame's edge lies in it, in its cells. */
const SIZE = { width: "px", height: "px" } as const;
const EDGES = { edgeX: "px", edgeY: "px" } as const;

/**
 * The kernels of `assembly/`, by the names the module exports them under. Every one ends in (scratch, firstRow,
 * endRow), which the team adds.
 */
export const KERNELS = {
  blur: {
    takes: {
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
    reads: (rows, { radiusY }) => ({ source: around(rows, Number(radiusY)) }),
  },
  blurTwice: {
    takes: { source: "buffer", first: "buffer", out: "buffer", ...SIZE, taps: "table" },
    reads: (rows) => ({ source: around(rows, BLUR_TWICE_REACH) }),
    alsoFills: "first",
  },
  reduce: {
    takes: {
      source: "buffer",
      out: "buffer",
      ...SIZE,
      ...EDGES,
      halveX: "flag",
      halveY: "flag",
      black: "flag",
      key: "table?",
    },
    reads: (rows, { halveY }) => ({ source: halveY ? doubled(rows) : rows }),
  },
  gather: {
    takes: {
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
    reads: (rows, { doubleY }) => ({
      coarse: doubleY ? halved(rows) : rows,
      planeA: rows,
      planeB: rows,
      planeC: rows,
      under: rows,
    }),
    overwrites: "under",
  },
  mixCells: {
    takes: {
      source: "buffer",
      sum: "buffer?",
      out: "buffer",
      ...SIZE,
      columns: "table",
      rows: "table",
      weight: "table",
    },
  },
  smearRows: {
    takes: { source: "buffer", out: "buffer", ...SIZE, decay: "table", lead: "px", black: "flag" },
    reads: (rows) => ({ source: rows }),
  },
  pointwise: {
    takes: {
      source: "buffer",
      other: "buffer?",
      third: "buffer?",
      out: "buffer",
      width: "px",
      program: "table",
      operations: "count",
    },
    reads: (rows) => ({ source: rows, other: rows, third: rows }),
    overwrites: "source",
  },
  geometryMap: { takes: { out: "buffer", columns: "count", spacing: "px", record: "table", lateral: "table" } },
  split: {
    takes: { source: "buffer", out: "buffer", ...SIZE, black: "flag" },
    reads: (rows) => ({ source: [rows[0] - SURROUND - SURROUND, rows[1]] }),
  },
  warp: {
    takes: {
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
    readsByMap: true,
  },
  crop: {
    takes: { source: "buffer", out: "buffer", width: "px", outWidth: "px", left: "px", top: "px" },
    reads: ([first, end], { top }) => ({ source: [first + Number(top), end + Number(top)] }),
  },
  drawApart: { takes: { source: "buffer", planes: "buffer", out: "buffer", ...SIZE, copies: "table" } },
  resize: { takes: { source: "pixels", out: "buffer", width: "px", outWidth: "px", across: "table", down: "table" } },
  contrast: {
    takes: {
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
    reads: (rows) => {
      const near = around(rows, CONTRAST_REACH);
      return { sharp: near, blurred: near, blurredTwice: near, low: halved(rows) };
    },
  },
  contrastLow: {
    takes: {
      sharp: "buffer",
      blurred: "buffer",
      blurredTwice: "buffer",
      out: "buffer",
      ...SIZE,
      record: "table",
    },
    reads: (rows) => {
      const near = around(rows, CONTRAST_REACH);
      return { sharp: near, blurred: near, blurredTwice: near };
    },
  },
  pupilPlanes: {
    takes: {
      source: "buffer",
      depth: "buffer?",
      out: "buffer",
      ...SIZE,
      surround: "px",
      record: "table",
      black: "flag",
    },
  },
  pupilReach: { takes: { planes: "buffer", out: "buffer", ...SIZE, surround: "px", record: "table" } },
  iris: { takes: { planes: "buffer", reach: "buffer", out: "buffer", ...SIZE, surround: "px", record: "table" } },
  arc: { takes: { source: "buffer", out: "buffer", ...SIZE, record: "table" } },
  skew: {
    takes: { source: "buffer", ...SIZE, out: "buffer", outWidth: "px", slope: "ratio", shift: "px", transpose: "flag" },
  },
  unskew: {
    takes: {
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
  },
  count: {
    takes: {
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
  },
  trailRows: {
    takes: { source: "buffer", out: "buffer", width: "px", decay: "table", backward: "flag" },
    reads: (rows) => ({ source: rows }),
  },
} as const satisfies Record<string, KernelDefinition>;
export type KernelName = keyof typeof KERNELS;
export const KERNEL_NAMES = Object.keys(KERNELS) as KernelName[];

type ValueOf<K extends ArgumentKind> = K extends "buffer"
  ? number
  : K extends "buffer?"
    ? number | null
    : K extends "table"
      ? TableRef
      : K extends "table?"
        ? TableRef | null
        : K extends "pixels"
          ? number | TableRef
          : K extends "flag"
            ? boolean
            : number;

type Takes<K extends KernelName> = (typeof KERNELS)[K]["takes"];

/** The arguments of a kernel, by name; buffers by their numbers in the plan. */
export type ArgumentsOf<K extends KernelName> = {
  -readonly [N in keyof Takes<K>]: Takes<K>[N] extends ArgumentKind ? ValueOf<Takes<K>[N]> : never;
};
export type Value = number | boolean | null | TableRef;

const isBuffer = (kind: ArgumentKind, value: Value | undefined): value is number =>
  (kind === "buffer" || kind === "buffer?" || kind === "pixels") && typeof value === "number";

/** The buffers among a kernel's arguments, by the arguments' names: what is read and what is filled. */
export const buffersIn = (kernel: KernelName, args: Readonly<Record<string, Value>>): [string, number][] =>
  Object.entries<ArgumentKind>(KERNELS[kernel].takes).flatMap(([name, kind]) => {
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
  return Object.entries<ArgumentKind>(KERNELS[kernel].takes).map(([name, kind]) => {
    const value = args[name];
    if (isBuffer(kind, value)) return addressOf(value);
    return typeof value === "object" && value !== null ? tableAt[value.table]! : Number(value);
  });
}

/** What is known of a kernel. */
export const kernelDefinition = (kernel: KernelName): KernelDefinition => KERNELS[kernel];
