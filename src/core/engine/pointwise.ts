import { LUMINANCE } from "../colour/primaries";
import type { Matrix3, Triple } from "../maths/matrix";
import type { PlanBuilder } from "./plan";
import {
  CURVE_DETAIL,
  CURVE_SHIFT,
  type Fields,
  LAYER_MODES,
  pack,
  POINT_OPERATIONS,
  type PointOperation,
} from "./records";

export type { PointOperation } from "./records";

// Programs for the fused pixel-local kernel (assembly/pointwise.ts), whose records are declared in `records`.

/** The numbers of the operations: their places in the list of them. */
const CODE_NUMBERS = new Map(Object.keys(POINT_OPERATIONS).map((code, i) => [code, i + 1]));

const HEADER_BYTES = 16;

/** The bytes of one record: its number, its length, and from byte 16 on its fields. */
function encode(operation: PointOperation): Uint8Array {
  const body = "fields" in operation ? pack<Fields>(POINT_OPERATIONS[operation.code], operation.fields) : NOTHING;
  const bytes = new Uint8Array(HEADER_BYTES + body.length);
  const view = new DataView(bytes.buffer);
  view.setInt32(0, CODE_NUMBERS.get(operation.code)!, true);
  view.setInt32(4, bytes.length, true);
  bytes.set(body, HEADER_BYTES);
  return bytes;
}
const NOTHING = new Uint8Array(0);

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

/** What R, G and B each add to R, G, B. */
const columnsOf = (m: Matrix3) => ({
  fromRed: [m[0], m[3], m[6], 0],
  fromGreen: [m[1], m[4], m[7], 0],
  fromBlue: [m[2], m[5], m[8], 0],
});

/** A 3x3 matrix, row by row, on R, G, B; alpha passes. */
export const matrixOperation = (m: Matrix3): PointOperation => ({ code: "matrix", fields: columnsOf(m) });

/** row = kept + (row - kept) * amount, between `keepOperation` and here. */
export const keepOperation: PointOperation = { code: "keep" };
export const mixOperation = (amount: number): PointOperation => ({ code: "mix", fields: { amount } });
export const quantiseOperation: PointOperation = { code: "quantise" };
/** Light over its alpha: what a file keeps whose colour is not associated with it. */
export const unassociateOperation: PointOperation = { code: "unassociate" };
export const scrubOperation: PointOperation = { code: "scrub" };
/** Black, in every lane. */
export const clearOperation: PointOperation = { code: "clear" };
/** The other frame added. */
export const sumOperation: PointOperation = { code: "sum" };
/** Times the other frame. */
export const productOperation: PointOperation = { code: "product" };
/** The other frame where the third one is 0, the row where it is 1. */
export const blendOperation: PointOperation = { code: "blend" };

/** Tints by tone that keep luminance (factors of R, G, B), and vibrance. */
export const balanceOperation = (
  [shadows, middles, highlights]: readonly (readonly number[])[],
  vibrance: number,
): PointOperation => ({
  code: "balance",
  fields: {
    luminance: LUMINANCE,
    shadows: [...shadows!, 1],
    middles: [...middles!, 1],
    highlights: [...highlights!, 1],
    vibrance,
  },
});

/** A matte of 1 everywhere. */
export const everywhereOperation: PointOperation = {
  code: "shapeMatte",
  fields: {
    combine: "union",
    inverted: false,
    strength: 1,
    ...{ centreX: 0, centreY: 0, acrossX: 0, acrossY: 0, downX: 0, downY: 0 },
    ...{ power: 2, outer: 2 },
  },
};

/** (row - other) * amount, over the other frame or over black. */
export const differenceOperation = (amount: number, overOther: boolean): PointOperation => ({
  code: "difference",
  fields: { amount, base: overOther ? 1 : 0 },
});

/** A curve's table runs from 2^-24, */
const CURVE_FIRST_EXPONENT = -24;
/** whose bits as a float are these, shifted by CURVE_SHIFT; */
const CURVE_FIRST = (CURVE_FIRST_EXPONENT + 127) << (23 - CURVE_SHIFT);
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
  return { code: "curve", fields: { first: CURVE_FIRST, last, table } };
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
  return { code: "curves", fields: { first: CURVE_FIRST, last, table } };
}

export type LayerMode = (typeof LAYER_MODES)[number];

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
    fields: { mode, amount: amount * scale, level, gamma, hold, dither, seed, neutral: base },
  };
};

const MAX_FLOAT = 3.4e38;
const finite = (value: number) => Math.min(MAX_FLOAT, Math.max(-MAX_FLOAT, value || 0));

interface Lattice {
  size: number;
  low: Triple;
  high: Triple;
  /** Interleaved RGB. */
  table: Float32Array;
}

const latticeOf = ({ size, low, high, table }: Lattice) => ({
  low: [...low, 0],
  scale: high.map((top, c) => (size - 1) / (top - low[c]!)),
  size,
  table,
});

/** A table of RGB rows for each channel by itself, linear between entries, held outside its domain. */
export const lineOperation = (from: Lattice): PointOperation => ({ code: "line", fields: latticeOf(from) });

/** A cube of colours, blue fastest, tetrahedral or trilinear between entries, held outside its domain. */
export const cubeOperation = (from: Lattice & { isTrilinear?: boolean }): PointOperation => ({
  code: "cube",
  fields: { ...latticeOf(from), trilinear: from.isTrilinear ?? false },
});

export const clampOperation = (low: number, high: number): PointOperation => ({ code: "clamp", fields: { low, high } });

/** A 3x3 matrix and what is added after it. */
export const offsetMatrixOperation = (m: Matrix3, offset: Triple): PointOperation => ({
  code: "offset",
  fields: { ...columnsOf(m), offset: [...offset, 0] },
});
