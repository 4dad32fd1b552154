import type { Encoding } from "../colour/encodings";
import type { Matrix3 } from "../maths/matrix";
import { applyMatrix, type Frame, isFloatDepth, type RawImage, topOf, type WholeDepth } from "./image";

/**
 * Whole code values as a file holds them, with what brings them into working light. The table is made once, where the
 * file is read: powers and logarithms may differ in their last bit from one JavaScript engine to the next, a table's
 * floats do not.
 */
export interface Codes {
  width: number;
  height: number;
  depth: WholeDepth;
  /** Interleaved RGBA, rows from the top. */
  data: Uint8Array | Uint16Array;
  /** Light in the encoding's primaries, by code value; as long as there are code values. */
  light: Float32Array;
  /** From the encoding's primaries to working ones; left out where they are the same. */
  toWorking?: Matrix3;
}

/** An image as code values, or null where its samples are floats or its encoding is a table of colours. */
export function codesOf({ width, height, pixels }: RawImage, { table, transfer, toWorking }: Encoding): Codes | null {
  if (table || isFloatDepth(pixels.depth)) return null;
  const { depth, data } = pixels as { depth: WholeDepth; data: Uint8Array | Uint16Array };
  return { width, height, depth, data, light: lightByCode(depth, transfer.toLight), toWorking: toWorking ?? undefined };
}

function lightByCode(depth: WholeDepth, toLight: (code: number) => number): Float32Array {
  const top = topOf(depth);
  return Float32Array.from({ length: top + 1 }, (_, code) => {
    const light = toLight(code / top);
    return Number.isFinite(light) ? light : 0;
  });
}

/** Code values in working light. Alpha is linear in every encoding. */
export function lightOfCodes({ width, height, depth, data, light, toWorking }: Codes): Frame {
  const out = new Float32Array(width * height * 4);
  const top = topOf(depth);
  for (let i = 0; i < out.length; i += 4) {
    out[i] = light[data[i]!]!;
    out[i + 1] = light[data[i + 1]!]!;
    out[i + 2] = light[data[i + 2]!]!;
    out[i + 3] = data[i + 3]! / top;
  }
  if (toWorking) applyMatrix(out, toWorking);
  return { width, height, data: out };
}
