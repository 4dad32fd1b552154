import { LUMINANCE_709 } from "../colour/primaries";
import { COLUMNS, LEVELS, VECTORS } from "../compile/outputs/scopes";
import { type ScopeCounts, vectorOf } from "./count";

const MAX_CODE = 255;

/** The cell of the vectorscope that an 8-bit colour falls into. */
function vectorCell(r: number, g: number, b: number): number {
  const [blue, red] = vectorOf(r / MAX_CODE, g / MAX_CODE, b / MAX_CODE);
  const cell = (at: number) => Math.min(VECTORS - 1, Math.max(0, Math.floor(at * VECTORS)));
  return cell(0.5 - red) * VECTORS + cell(blue + 0.5);
}

/**
 * Counts of a picture of 8 bits that did not come from the engine. `pixels`: interleaved RGBA, rows from the top.
 * `vectors`: hues, too.
 */
export function countsOfPixels(
  pixels: ArrayLike<number>,
  width: number,
  height: number,
  { vectors: wantsVectors = false } = {},
): ScopeCounts {
  const vectors = wantsVectors ? new Uint32Array(VECTORS * VECTORS) : null;
  const plane = () => new Uint32Array(COLUMNS * LEVELS);
  const [red, green, blue, luma] = [plane(), plane(), plane(), plane()];
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at += 4) {
      const column = Math.floor((x * COLUMNS) / width) * LEVELS;
      const [r, g, b] = [pixels[at]!, pixels[at + 1]!, pixels[at + 2]!];
      red[column + r]!++;
      green[column + g]!++;
      blue[column + b]!++;
      if (vectors) vectors[vectorCell(r, g, b)]!++;
      luma[column + Math.floor(LUMINANCE_709[0] * r + LUMINANCE_709[1] * g + LUMINANCE_709[2] * b)]!++;
    }
  return { red, green, blue, luma, vectors, pixels: width * height };
}
