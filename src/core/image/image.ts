import { type Encoding, fromWorking } from "../colour/encodings";
import { NO_OVERSCAN, type Overscan, shownOf, withOverscan } from "./overscan";
import type { Matrix3 } from "../maths/matrix";

/** A frame in working light: RGBA float32, rows from the top. */
export interface Frame {
  width: number;
  height: number;
  data: Float32Array;
}

/** Bytes seen as the floats they hold, where they lie. */
export const floatsOf = ({ buffer, byteOffset, byteLength }: Uint8Array): Float32Array =>
  new Float32Array(buffer, byteOffset, byteLength / Float32Array.BYTES_PER_ELEMENT);

/** What a sample is: whole numbers of so many bits, or a float. */
export type WholeDepth = "8" | "10" | "12" | "16";
export type Depth = WholeDepth | "half" | "float";
export const DEPTHS = ["8", "10", "12", "16", "half", "float"] as const satisfies Depth[];

/** Pixels as a file holds them: interleaved RGBA code values, rows from the top of the display window. */
export type Pixels =
  | { depth: "8"; data: Uint8Array }
  | { depth: Exclude<WholeDepth, "8">; data: Uint16Array }
  | { depth: "half" | "float"; data: Float32Array };

export interface RawImage {
  width: number;
  height: number;
  pixels: Pixels;
  /** Whether colour has been multiplied by alpha; left out where there is no alpha, which is opaque. */
  alpha?: Alpha;
  /** Known to hold nothing that is no number or infinite. Default: not known. */
  isFinite?: boolean;
  /** Depth along the axis, m, where the file has it. */
  z?: Float32Array;
  /** As much of width and height lies around what is shown. */
  overscan?: Overscan;
}

/** An image without what lies around what is shown. */
export function cropped<T extends RawImage>(image: T): T {
  const { overscan, pixels, z } = image;
  if (!overscan) return image;
  const cut = <D extends Float32Array | Uint8Array | Uint16Array>(data: D, lanes: number) =>
    withOverscan(data, image, overscan, NO_OVERSCAN, lanes);
  return {
    ...image,
    ...shownOf(image, overscan),
    overscan: undefined,
    pixels: { ...pixels, data: cut(pixels.data as Float32Array, LANES) } as Pixels,
    ...(z ? { z: cut(z, 1) } : {}),
  };
}
const LANES = 4;

/** Colour multiplied by alpha, as frames are here, or not. */
export type Alpha = "associated" | "unassociated";

/** Whether every pixel's alpha is 1. */
export function isOpaque(data: Float32Array): boolean {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 1) return false;
  return true;
}

/** Multiplies light by alpha, in place. */
export function associate({ data }: Frame): void {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]!;
    if (alpha === 1) continue;
    for (let c = 0; c < 3; c++) data[i + c]! *= alpha;
  }
}

/** Divides light by alpha, in place. Light where there is no coverage has nothing to be divided by, and stays. */
export function unassociate({ data }: Frame): void {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]!;
    if (alpha === 1 || alpha <= 0) continue;
    for (let c = 0; c < 3; c++) data[i + c]! /= alpha;
  }
}

export const isFloatDepth = (depth: Depth): depth is "half" | "float" => depth === "half" || depth === "float";
/** The highest code value of a whole-number depth; 1 for floats. */
export const topOf = (depth: Depth) => (isFloatDepth(depth) ? 1 : 2 ** Number(depth) - 1);
export const depthLabel = (depth: Depth) => (isFloatDepth(depth) ? depth : `${depth} bits`);

/** Largest frame taken in: 8192 x 8192, or any shape of as many pixels. */
export const MOST_PIXELS = 2 ** 26;
export const MAX_SIDE_LENGTH = 32768;

/** Why a size cannot be taken in, or null. */
export function sizeProblem(width: number, height: number): string | null {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
    return `a size of ${width}x${height} pixels is not one`;
  if (width > MAX_SIDE_LENGTH || height > MAX_SIDE_LENGTH || width * height > MOST_PIXELS)
    return `${width}x${height} pixels is more than is taken in (${MOST_PIXELS / 2 ** 20} million pixels, ${MAX_SIDE_LENGTH} a side)`;
  return null;
}

/** Red, green and blue through a matrix, in place. */
export function applyMatrix(data: Float32Array, m: Matrix3): void {
  for (let i = 0; i < data.length; i += 4) {
    const r = data[i]!;
    const g = data[i + 1]!;
    const b = data[i + 2]!;
    data[i] = m[0] * r + m[1] * g + m[2] * b;
    data[i + 1] = m[3] * r + m[4] * g + m[5] * b;
    data[i + 2] = m[6] * r + m[7] * g + m[8] * b;
  }
}

/** Whether code values are light as they stand, in whatever primaries. */
export const isLinear = ({ family, table }: Encoding) => family === "linear" && !table;

/** Whether an encoding's float pixels are working light as they stand. */
export const isWorkingLight = (encoding: Encoding) => isLinear(encoding) && !encoding.toWorking;

/**
 * Working light to an encoding's code values, as floats; 0 to 1 is the range of whole-number depths. `alpha`: of what
 * comes out.
 */
export function encodeFrame({ width, height, data }: Frame, encoding: Encoding, alpha: Alpha = "associated"): Frame {
  if (encoding.table)
    throw new RangeError(
      `“${encoding.label}” is a table, which works one way only; choose another encoding to write in`,
    );
  const out = Float32Array.from(data);
  if (alpha === "unassociated") unassociate({ width, height, data: out });
  const matrix = fromWorking(encoding);
  if (matrix) applyMatrix(out, matrix);
  const { toCode } = encoding.transfer;
  if (!isLinear(encoding)) for (let i = 0; i < out.length; i++) if ((i & 3) !== 3) out[i] = toCode(out[i]!);
  return { width, height, data: out };
}

/** Float code values to whole numbers, rounded to nearest in 32-bit arithmetic as the kernel does it, held in range. */
export function quantise(data: Float32Array, depth: WholeDepth): Uint8Array | Uint16Array {
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
  for (let i = 0, at = 0; i < width * height; i++, at += 4) {
    const distance = z ? z[i]! : FARTHEST;
    const own = distance > 0 && distance < FARTHEST ? distance : FARTHEST;
    data[at] = own;
    data[at + 1] = own;
    data[at + 2] = own;
    data[at + 3] = own;
  }
  return { width, height, data };
}
