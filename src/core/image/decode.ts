import type { Encoding } from "../colour/encodings";
import { applier } from "../colour/transform/transform";
import { memoised } from "../maths/memoise";
import { codesOf, lightOfCodes } from "./codes";
import { type Cleaned, cleaned, NOTHING_CLEANED } from "./clean";
import { applyMatrix, associate, type Frame, isLinear, type Pixels, type RawImage, topOf } from "./image";

/** Steps of a curve's table between code 0 and code 1: linear between them is nearer than a float's rounding. */
const CURVE_STEPS = 65536;

/** Below it the transfer function itself is asked: a power has no slope limit near black, and a straight line misses it. */
const NEAR_BLACK = 1 / 64;

type Curve = (code: number) => number;

const curveTables = memoised<Float64Array>(8);
const curveTable = (toLight: Curve) =>
  curveTables(toLight, "steps", () =>
    Float64Array.from({ length: CURVE_STEPS + 1 }, (_, i) => toLight(i / CURVE_STEPS)),
  );

/** Float code values to light in place, most of them looked up. Alpha is linear in every encoding. */
function linearise(data: Float32Array, toLight: Curve): Float32Array {
  const table = curveTable(toLight);
  for (let i = 0; i < data.length; i++) {
    if ((i & 3) === 3) continue;
    const code = data[i]!;
    if (code >= NEAR_BLACK && code < 1) {
      const position = code * CURVE_STEPS;
      const cell = position | 0;
      const from = table[cell]!;
      data[i] = from + (table[cell + 1]! - from) * (position - cell);
    } else data[i] = toLight(code);
  }
  return data;
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

/**
 * Brings an image into working light, colour associated with alpha; what is not finite is made so, and counted. Float
 * pixels become light where they are; those of a table's encoding do not.
 */
export function decodeImage(image: RawImage, encoding: Encoding): { frame: Frame; cleaned: Cleaned } {
  const { frame, cleaned } = lightOf(image, encoding);
  if (image.alpha === "unassociated") associate(frame);
  return { frame, cleaned };
}

function lightOf(image: RawImage, encoding: Encoding): { frame: Frame; cleaned: Cleaned } {
  const codes = codesOf(image, encoding);
  if (codes) return { frame: lightOfCodes(codes), cleaned: NOTHING_CLEANED };
  const { width, height, pixels } = image;
  const data = encoding.table
    ? throughTable(pixels, encoding)
    : isLinear(encoding)
      ? (pixels.data as Float32Array)
      : linearise(pixels.data as Float32Array, encoding.transfer.toLight);
  const found = image.isFinite ? NOTHING_CLEANED : cleaned(data);
  if (encoding.toWorking) applyMatrix(data, encoding.toWorking);
  return { frame: { width, height, data }, cleaned: found };
}
