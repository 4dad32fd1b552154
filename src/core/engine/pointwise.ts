import type { Matrix3, Triple } from "../maths/matrix";
import type { PlanBuilder } from "./plan";

/**
 * Programs for the fused pixel-local kernel (assembly/pointwise.ts, which defines the records). An operation is plain
 * data here and becomes bytes when a program is placed in a plan.
 */
const CODES = {
  matrix: 1,
  radial: 2,
  shape: 3,
  cdl: 4,
  curve: 5,
  grain: 6,
  quantise: 7,
  keep: 8,
  mix: 9,
  matte: 10,
  scrub: 11,
  difference: 12,
  curves: 13,
  line: 14,
  cube: 15,
  clamp: 16,
  offset: 17,
  lanes: 18,
  blend: 19,
  product: 20,
  unsharp: 21,
  layer: 22,
  balance: 23,
  clear: 24,
  shapeMatte: 25,
  polygonMatte: 26,
  keyMatte: 27,
  depthMatte: 28,
  overlay: 29,
  take: 30,
  sum: 31,
  hues: 32,
  joinMatte: 33,
  least: 34,
  unassociate: 35,
} as const;

export interface PointOperation {
  code: keyof typeof CODES;
  /** The record's words after its header; whole numbers in `integers` are written at those positions instead. */
  floats: number[];
  integers?: Record<number, number>;
  /** A table of floats placed behind the words, its offset written at word `tableAt`. */
  table?: Float32Array;
  tableAt?: number;
}

const HEADER_BYTES = 16;
const round16 = (bytes: number) => Math.ceil(bytes / 16) * 16;

/** The bytes of one record: header, words, table. */
function encode({ code, floats, integers = {}, table, tableAt }: PointOperation): Uint8Array {
  const words = round16(floats.length * 4);
  const length = HEADER_BYTES + words + (table ? round16(table.byteLength) : 0);
  const bytes = new ArrayBuffer(length);
  const view = new DataView(bytes);
  view.setInt32(0, CODES[code], true);
  view.setInt32(4, length, true);
  floats.forEach((value, i) => view.setFloat32(HEADER_BYTES + i * 4, value, true));
  for (const [at, value] of Object.entries(integers)) view.setInt32(HEADER_BYTES + Number(at) * 4, value, true);
  if (table) {
    view.setInt32(HEADER_BYTES + tableAt! * 4, words, true);
    new Float32Array(bytes, HEADER_BYTES + words, table.length).set(table);
  }
  return new Uint8Array(bytes);
}

/**
 * Adds a fused program from `input` to `output` (8-bit when the program ends in quantise). `other`, `third`: further
 * frames.
 */
export function addProgram(
  builder: PlanBuilder,
  input: number,
  output: number,
  program: PointOperation[],
  other?: number,
  third?: number,
): number {
  const records = program.map(encode);
  const bytes = new Uint8Array(records.reduce((sum, record) => sum + record.length, 0));
  let at = 0;
  for (const record of records) {
    bytes.set(record, at);
    at += record.length;
  }
  const { width } = builder.size(input);
  return builder.add("pointwise", {
    source: input,
    other: other ?? null,
    third: third ?? null,
    out: output,
    width,
    program: builder.table(bytes),
    operations: records.length,
  });
}

/** A 3x3 matrix, row by row, on R, G, B; alpha passes. */
export function matrixOperation(m: Matrix3): PointOperation {
  return { code: "matrix", floats: [m[0], m[3], m[6], 0, m[1], m[4], m[7], 0, m[2], m[5], m[8], 0] };
}

/** row = kept + (row - kept) * amount, between `keepOperation` and here. */
export const keepOperation: PointOperation = { code: "keep", floats: [] };
export const mixOperation = (amount: number): PointOperation => ({ code: "mix", floats: [amount] });
export const quantiseOperation: PointOperation = { code: "quantise", floats: [] };
/** Light over its alpha: what a file keeps whose colour is not associated with it. */
export const unassociateOperation: PointOperation = { code: "unassociate", floats: [] };
export const scrubOperation: PointOperation = { code: "scrub", floats: [] };

/** (row - other) * amount, over the other frame or over black. */
export const differenceOperation = (amount: number, overOther: boolean): PointOperation => ({
  code: "difference",
  floats: [amount, overOther ? 1 : 0],
});

/** Segments an octave, as mantissa bits (assembly/view.ts's too): 256 keep a power curve within 5e-7 of its value. */
const CURVE_DETAIL = 8;
/** A curve's table runs from 2^-24, */
const CURVE_FIRST_EXPONENT = -24;
/** to 2^10 for what a display shows (above, held), and to 2^17, beyond the largest half, for light. */
const DISPLAY_OCTAVES = 34;
const LIGHT_OCTAVES = 41;

/** A curve on each channel, from light (2^-24 to 1024, held above) to what a display shows; less light is black. */
export function curveOperation(curve: (light: number) => number): PointOperation {
  const segments = 1 << CURVE_DETAIL;
  const last = DISPLAY_OCTAVES * segments;
  const table = new Float32Array(last + 1);
  for (let i = 0; i <= last; i++) {
    const octave = Math.floor(i / segments);
    table[i] = curve(2 ** (octave + CURVE_FIRST_EXPONENT) * (1 + (i % segments) / segments));
  }
  const first = (CURVE_FIRST_EXPONENT + 127) << CURVE_DETAIL;
  return { code: "curve", floats: [0, 0, 0], integers: { 0: first, 1: last }, table, tableAt: 2 };
}

/**
 * One curve a channel over all of light, either sign, as `curveOperation` samples it; below the first octave straight
 * to zero. `beyond` 2^17: held at the last value, or straight on by the last slope, so that light keeps its order.
 */
export function curvesOperation(
  curves: ((light: number) => number)[],
  beyond: "held" | "straight" = "held",
): PointOperation {
  const segments = 1 << CURVE_DETAIL;
  const last = LIGHT_OCTAVES * segments;
  const branch = last + 1;
  const end = 2 ** (CURVE_FIRST_EXPONENT + LIGHT_OCTAVES);
  const lastStep = end / 2 / segments;
  // For each channel: the value at zero, the slopes beyond, then the branch above zero, then the one below.
  const head = 3;
  const table = new Float32Array(3 * (head + 2 * branch));
  curves.forEach((curve, c) => {
    const at = c * (head + 2 * branch);
    table[at] = curve(0);
    for (let i = 0; i <= last; i++) {
      const light = 2 ** (Math.floor(i / segments) + CURVE_FIRST_EXPONENT) * (1 + (i % segments) / segments);
      table[at + head + i] = finite(curve(light));
      table[at + head + branch + i] = finite(curve(-light));
    }
    if (beyond === "held") return;
    table[at + 1] = finite((curve(end) - curve(end - lastStep)) / lastStep);
    table[at + 2] = finite((curve(-end) - curve(lastStep - end)) / lastStep);
  });
  const first = (CURVE_FIRST_EXPONENT + 127) << CURVE_DETAIL;
  return {
    code: "curves",
    floats: [0, 0, 0, 0],
    integers: { 0: 23 - CURVE_DETAIL, 1: first, 2: last },
    table,
    tableAt: 3,
  };
}

/** How a layer joins the picture under it; the numbers are assembly/layers.ts's. */
export const LAYER_MODES = {
  add: 0,
  lighten: 1,
  soft: 2,
  overlay: 3,
  dodge: 4,
  screen: 5,
  multiply: 6,
  over: 7,
} as const;
export type LayerMode = keyof typeof LAYER_MODES;

export interface Layer {
  mode: LayerMode;
  /** Factor on the layer's light. */
  amount: number;
  /** Factor on the picture's. */
  level?: number;
  gamma?: number;
  /** Light above which the picture is left alone; 0 for never. */
  hold?: number;
  /** Triangular noise against banding, as a share of the light laid. */
  dither?: number;
  seed?: number;
  /**
   * What is laid is a picture: middle grey changes nothing in soft light and overlay, white nothing in multiply, as
   * published. Else it is light, which changes nothing where there is none.
   */
  isPicture?: boolean;
}

/** The layer that changes nothing, of the modes in which that is not black. */
const NEUTRAL: Partial<Record<LayerMode, number>> = { soft: 0.5, overlay: 0.5, multiply: 1 };

/** Lays the program's frame over the second one. */
export const layerOperation = ({
  mode,
  amount,
  level = 1,
  gamma = 1,
  hold = 0,
  dither = 0,
  seed = 0,
  isPicture = false,
}: Layer): PointOperation => {
  const neutral = NEUTRAL[mode] ?? 0;
  // Light goes from the neutral layer up; a picture from the neutral layer, at no amount, to what it is.
  const base = isPicture ? neutral * (1 - Math.min(1, amount)) : neutral;
  const scale = isPicture ? 1 : neutral ? 1 - neutral : 1;
  return {
    code: "layer",
    floats: [0, amount * scale, level, gamma, hold, dither, 0, base],
    integers: { 0: LAYER_MODES[mode], 6: seed },
  };
};

const MAX_FLOAT = 3.4e38;
const finite = (value: number) => Math.min(MAX_FLOAT, Math.max(-MAX_FLOAT, value || 0));

interface Table {
  size: number;
  low: Triple;
  high: Triple;
  /** Interleaved RGB. */
  table: Float32Array;
}

const domain = ({ size, low, high }: Table) => [...low, 0, ...high.map((top, c) => (size - 1) / (top - low[c]!)), 0];

/** A table of RGB rows for each channel by itself, linear between entries, held outside its domain. */
export function lineOperation(from: Table): PointOperation {
  return {
    code: "line",
    floats: [...domain(from), 0, 0, 0, 0],
    integers: { 8: from.size },
    table: from.table,
    tableAt: 9,
  };
}

/** A cube of colours, blue fastest, tetrahedral or trilinear between entries, held outside its domain. */
export function cubeOperation(from: Table & { isTrilinear?: boolean }): PointOperation {
  return {
    code: "cube",
    floats: [...domain(from), 0, 0, 0, 0],
    integers: { 8: from.size, 10: from.isTrilinear ? 1 : 0 },
    table: from.table,
    tableAt: 9,
  };
}

export const clampOperation = (low: number, high: number): PointOperation => ({ code: "clamp", floats: [low, high] });

/** A 3x3 matrix and what is added after it. */
export const offsetMatrixOperation = (m: Matrix3, offset: Triple): PointOperation => ({
  code: "offset",
  floats: [m[0], m[3], m[6], 0, m[1], m[4], m[7], 0, m[2], m[5], m[8], 0, ...offset, 0],
});
