import { type Encoding, fromWorking, toWorking } from "../colour/encodings";
import type { Frame } from "../engine/engine";
import type { Matrix3 } from "../maths/matrix";

/** Pixels as a file holds them: interleaved RGBA code values, rows from the top of the display window. */
export type Pixels =
  | { depth: "u8"; data: Uint8Array }
  | { depth: "u16"; data: Uint16Array }
  | { depth: "half" | "float"; data: Float32Array };

export type Depth = Pixels["depth"];

export interface RawImage {
  width: number;
  height: number;
  pixels: Pixels;
  /** Depth along the axis, m, where the file has it. */
  z?: Float32Array;
}

/** Largest frame taken in: 8192 x 8192, or any shape of as many pixels. */
export const MOST_PIXELS = 2 ** 26;
export const LONGEST_SIDE = 32768;

/** Why a size cannot be taken in, or null. */
export function sizeProblem(width: number, height: number): string | null {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0)) return `a size of ${width}x${height} pixels is not one`;
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

/** Code values to light by table for whole numbers, one by one for floats. Alpha is linear in every encoding. */
function linearise({ depth, data }: Pixels, toLight: (code: number) => number): Float32Array {
  const out = new Float32Array(data.length);
  if (depth === "half" || depth === "float") {
    for (let i = 0; i < data.length; i++) out[i] = (i & 3) === 3 ? data[i]! : toLight(data[i]!);
    return out;
  }
  const top = depth === "u8" ? 255 : 65535;
  const table = Float32Array.from({ length: top + 1 }, (_, code) => toLight(code / top));
  for (let i = 0; i < data.length; i++) out[i] = (i & 3) === 3 ? data[i]! / top : table[data[i]!]!;
  return out;
}

/** Brings an image into working light; what is not finite becomes 0 and is counted. */
export function decodeImage({ width, height, pixels }: RawImage, encoding: Encoding): { frame: Frame; notFinite: number } {
  const isLinear = encoding.transfer.toLight(0.5) === 0.5;
  const isFloat = pixels.depth === "half" || pixels.depth === "float";
  const data = isLinear && isFloat ? Float32Array.from(pixels.data) : linearise(pixels, encoding.transfer.toLight);
  let notFinite = 0;
  for (let i = 0; i < data.length; i++) {
    if (Number.isFinite(data[i])) continue;
    data[i] = 0;
    notFinite++;
  }
  const matrix = toWorking(encoding);
  if (matrix) applyMatrix(data, matrix);
  return { frame: { width, height, data }, notFinite };
}

/** Working light to an encoding's code values, as floats; 0 to 1 is the range of whole-number depths. */
export function encodeFrame({ width, height, data }: Frame, encoding: Encoding): Frame {
  const out = Float32Array.from(data);
  const matrix = fromWorking(encoding);
  if (matrix) applyMatrix(out, matrix);
  if (encoding.transfer.toCode(0.5) !== 0.5) for (let i = 0; i < out.length; i++) if ((i & 3) !== 3) out[i] = encoding.transfer.toCode(out[i]!);
  return { width, height, data: out };
}

/** Float code values to whole numbers, rounded to nearest in 32-bit arithmetic as the kernel does it, held in range. */
export function quantise(data: Float32Array, depth: "u8" | "u16"): Uint8Array | Uint16Array {
  const top = depth === "u8" ? 255 : 65535;
  const out = depth === "u8" ? new Uint8Array(data.length) : new Uint16Array(data.length);
  for (let i = 0; i < data.length; i++) {
    const value = Math.fround(Math.fround(data[i]! * top) + 0.5);
    out[i] = value <= 0 ? 0 : value >= top ? top : value;
  }
  return out;
}
