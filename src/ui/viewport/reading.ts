import { stopsOf } from "../../core/colour/grey";
import { type Light, type Picture } from "../engine/questions";
import type { Extent, Spot } from "./place";

const MIN_LIGHT = 1e-6;

/** What stands under the cursor: a pixel of the frame, its light, and the code values on the screen. */
export interface Reading extends Spot {
  light: Light | null;
  code: Light | null;
}

/** The pixel of the frame a place lies in; null outside it. */
export function pixelAt({ x, y }: Spot, { width, height }: Extent): Spot | null {
  return x < 0 || y < 0 || x >= width || y >= height ? null : { x: Math.floor(x), y: Math.floor(y) };
}

/** Code values of a picture under a pixel of the frame it is of; null where it does not reach. */
export function codeAt(picture: Picture, { x, y }: Spot, frame: Extent): Light | null {
  const column = Math.floor((x / frame.width) * picture.width);
  const row = Math.floor((y / frame.height) * picture.height);
  if (row < picture.top || row >= picture.top + picture.rows) return null;
  const at = ((row - picture.top) * picture.width + column) * 4;
  return [picture.pixels[at]!, picture.pixels[at + 1]!, picture.pixels[at + 2]!];
}

const stops = (light: number) => (light > MIN_LIGHT ? stopsOf(light).toFixed(1).replace("-", "−").padStart(5) : "   —");
const three = (values: Light | null, write: (value: number) => string) => values?.map(write).join(" ");

export const readingText = ({ x, y, light, code }: Reading): string =>
  [
    `${String(x).padStart(4)}, ${String(y).padStart(4)}`,
    `stops ${three(light, stops) ?? "  …"}`,
    `code ${three(code, (value) => String(value).padStart(3)) ?? "…"}`,
  ].join("   ");
