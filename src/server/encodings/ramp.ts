import type { Encoding } from "../../core/colour/encodings";
import { decodeImage } from "../../core/image/decode";

const STEPS = 256;

/** Grey code values, 0 to 1, and the working light (luminance by the green channel) they stand for. */
export function greyRamp(encoding: Encoding): { codes: number[]; light: number[] } {
  const codes = Array.from({ length: STEPS + 1 }, (_, i) => i / STEPS);
  const data = Float32Array.from(codes.flatMap((code) => [code, code, code, 1]));
  const { frame } = decodeImage({ width: codes.length, height: 1, pixels: { depth: "float", data } }, encoding);
  return { codes, light: codes.map((_, i) => frame.data[i * 4 + 1]!) };
}
