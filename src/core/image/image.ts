import { type Encoding, fromWorking } from "../colour/encodings";
import { applier } from "../colour/transform/transform";
import type { Matrix3 } from "../maths/matrix";

/** A frame in working light: RGBA float32, rows from the top. */
export interface Frame {
  width: number;
  height: number;
  data: Float32Array;
}

/** What a sample is: whole numbers of so many bits, or a float. */
export type Depth = "8" | "10" | "12" | "16" | "half" | "float";
export const DEPTHS = ["8", "10", "12", "16", "half", "float"] as const satisfies Depth[];

/** Pixels as a file holds them: interleaved RGBA code values, rows from the top of the display window. */
export type Pixels =
  | { depth: "8"; data: Uint8Array }
  | { depth: "10" | "12" | "16"; data: Uint16Array }
  | { depth: "half" | "float"; data: Float32Array };

export interface RawImage {
  width: number;
  height: number;
  pixels: Pixels;
  /** Depth along the axis, m, where the file has it. */
  z?: Float32Array;
}

export const isFloatDepth = (depth: Depth): depth is "half" | "float" => depth === "half" || depth === "float";
/** The highest code value of a whole-number depth; 1 for floats. */
export const topOf = (depth: Depth) => (isFloatDepth(depth) ? 1 : 2 ** Number(depth) - 1);
export const depthLabel = (depth: Depth) => (isFloatDepth(depth) ? depth : `${depth} bits`);

/** Largest frame taken in: 8192 x 8192, or any shape of as many pixels. */
export const MOST_PIXELS = 2 ** 26;
export const LONGEST_SIDE = 32768;

/** Why a size cannot be taken in, or null. */
export function sizeProblem(width: number, height: number): string | null {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
    return `a size of ${width}x${height} pixels is not one`;
  if (width > LONGEST_SIDE || height > LONGEST_SIDE || width * height > MOST_PIXELS)
    return `${width}x${height} pixels is more than is taken in (${MOST_PIXELS / 2 ** 20} million pixels, ${LONGEST_SIDE} a side)`;
  return null;
}

function applyMatrix(data: Float32Array, m: Matrix3): void {
  for (let i = 0; i < data.length; i += 4) {
    const r = data[i]!;
    const g = data[i + 1]!;
    const b = data[i + 2]!;
    data[i] = m[0] * r + m[1] * g + m[2] * b;
    data[i + 1] = m[3] * r + m[4] * g + m[5] * b;
    data[i + 2] = m[6] * r + m[7] * g + m[8] * b;
  }
}

/** Steps of a curve's table between code 0 and code 1: linear between them is nearer than a float's rounding. */
const CURVE_STEPS = 65536;

/** A transfer function that looks most of its values up. */
function tabled(toLight: (code: number) => number): (code: number) => number {
  const table = Float64Array.from({ length: CURVE_STEPS + 1 }, (_, i) => toLight(i / CURVE_STEPS));
  return (code) => {
    // Near black a power has no slope limit, and a straight line between steps would miss it.
    if (!(code >= NEAR_BLACK && code < 1)) return toLight(code);
    const place = code * CURVE_STEPS;
    const cell = Math.floor(place);
    return table[cell]! + (table[cell + 1]! - table[cell]!) * (place - cell);
  };
}
const NEAR_BLACK = 1 / 64;

/** Code values to light by table for whole numbers, one by one for floats. Alpha is linear in every encoding. */
function linearise({ depth, data }: Pixels, toLight: (code: number) => number): Float32Array {
  const out = new Float32Array(data.length);
  if (isFloatDepth(depth)) {
    const curve = tabled(toLight);
    for (let i = 0; i < data.length; i += 4) {
      out[i] = curve(data[i]!);
      out[i + 1] = curve(data[i + 1]!);
      out[i + 2] = curve(data[i + 2]!);
      out[i + 3] = data[i + 3]!;
    }
    return out;
  }
  const top = topOf(depth);
  const table = Float32Array.from({ length: top + 1 }, (_, code) => toLight(code / top));
  for (let i = 0; i < data.length; i += 4) {
    out[i] = table[data[i]!]!;
    out[i + 1] = table[data[i + 1]!]!;
    out[i + 2] = table[data[i + 2]!]!;
    out[i + 3] = data[i + 3]! / top;
  }
  return out;
}

/** Code values, normalised, through an encoding's table. */
function throughTable({ depth, data }: Pixels, encoding: Encoding): Float32Array {
  const out = new Float32Array(data.length);
  const apply = applier(encoding.table!);
  const scale = 1 / topOf(depth);
  const { toLight } = encoding.transfer;
  const rgb = [0, 0, 0];
  for (let i = 0; i < data.length; i += 4) {
    for (let c = 0; c < 3; c++) rgb[c] = data[i + c]! * scale;
    apply(rgb);
    for (let c = 0; c < 3; c++) out[i + c] = toLight(rgb[c]!);
    out[i + 3] = data[i + 3]! * scale;
  }
  return out;
}

const isLinear = ({ family, table }: Encoding) => family === "linear" && !table;

/** Whether an encoding's float pixels are working light as they stand. */
export const isWorkingLight = (encoding: Encoding) => isLinear(encoding) && !encoding.toWorking;

/**
 * Brings an image into working light; what is not finite becomes 0. Linear float pixels in working primaries are used as they
 * are, in place.
 */
export function decodeImage({ width, height, pixels }: RawImage, encoding: Encoding): { frame: Frame } {
  const data = encoding.table
    ? throughTable(pixels, encoding)
    : isLinear(encoding) && isFloatDepth(pixels.depth)
      ? (pixels.data as Float32Array)
      : linearise(pixels, encoding.transfer.toLight);
  for (let i = 0; i < data.length; i++) if (!(Math.abs(data[i]!) < Infinity)) data[i] = 0;
  if (encoding.toWorking) applyMatrix(data, encoding.toWorking);
  return { frame: { width, height, data } };
}

/** Working light to an encoding's code values, as floats; 0 to 1 is the range of whole-number depths. */
export function encodeFrame({ width, height, data }: Frame, encoding: Encoding): Frame {
  if (encoding.table)
    throw new RangeError(
      `“${encoding.label}” is a table, which works one way only; choose another encoding to write in`,
    );
  const out = Float32Array.from(data);
  const matrix = fromWorking(encoding);
  if (matrix) applyMatrix(out, matrix);
  const { toCode } = encoding.transfer;
  if (!isLinear(encoding)) for (let i = 0; i < out.length; i++) if ((i & 3) !== 3) out[i] = toCode(out[i]!);
  return { width, height, data: out };
}

/** Float code values to whole numbers, rounded to nearest in 32-bit arithmetic as the kernel does it, held in range. */
export function quantise(data: Float32Array, depth: "8" | "10" | "12" | "16"): Uint8Array | Uint16Array {
  const top = topOf(depth);
  const out = depth === "8" ? new Uint8Array(data.length) : new Uint16Array(data.length);
  for (let i = 0; i < data.length; i++) {
    const value = Math.fround(Math.fround(data[i]! * top) + 0.5);
    out[i] = value <= 0 ? 0 : value >= top ? top : value;
  }
  return out;
}

/** Whole code values of one depth as floats, 0 to 1; floats as they are. */
export function normalised({ depth, data }: Pixels): Float32Array {
  if (isFloatDepth(depth)) return data as Float32Array;
  const scale = 1 / topOf(depth);
  return Float32Array.from(data, (value) => value * scale);
}

/** Farther than this nothing is, m. */
export const FARTHEST = 1e5;

/** A depth plane as a frame: distance (m) in every lane; what is not finite, or no distance, is far. */
export function depthFrame({ width, height, z }: Pick<RawImage, "width" | "height" | "z">): Frame {
  const data = new Float32Array(width * height * 4);
  for (let i = 0; i < width * height; i++)
    data.fill(z && z[i]! > 0 && z[i]! < FARTHEST ? z[i]! : FARTHEST, i * 4, i * 4 + 4);
  return { width, height, data };
}
