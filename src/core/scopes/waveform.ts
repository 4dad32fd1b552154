import { LUMINANCE_709 } from "../colour/primaries";
import { COLUMNS, LEVELS } from "../compile/outputs/scopes";
import type { ScopeCounts } from "./count";

/** Counts of a picture of 8 bits that did not come from the engine. `pixels`: interleaved RGBA, rows from the top. */
export function countsOfPixels(pixels: ArrayLike<number>, width: number, height: number): ScopeCounts {
  const plane = () => new Uint32Array(COLUMNS * LEVELS);
  const [red, green, blue, luma] = [plane(), plane(), plane(), plane()];
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at += 4) {
      const column = Math.floor((x * COLUMNS) / width) * LEVELS;
      const [r, g, b] = [pixels[at]!, pixels[at + 1]!, pixels[at + 2]!];
      red[column + r]!++;
      green[column + g]!++;
      blue[column + b]!++;
      luma[column + Math.floor(LUMINANCE_709[0] * r + LUMINANCE_709[1] * g + LUMINANCE_709[2] * b)]!++;
    }
  return { red, green, blue, luma, vectors: null, pixels: width * height };
}
