import { randomBytes } from "node:crypto";
import { rename, rm, writeFile } from "node:fs/promises";
import { dirname, basename, join } from "node:path";
import { type EncodingName, encodingByName } from "../../core/colour/encodings";
import { AP1 } from "../../core/colour/primaries";
import type { Frame } from "../../core/engine/engine";
import { encodeFrame } from "../../core/image/image";
import { writeExr } from "../../formats/exr/write";
import { formatOf } from "../../formats/formats";
import { writeRaster } from "../../formats/raster/raster";

export type OutputDepth = "8" | "16" | "half" | "float";

/** Attribute that carries the recipe's hash in every file written. */
export const RECIPE_ATTRIBUTE = "haloRecipe";

export interface OutputOptions {
  depth: OutputDepth;
  /** Null: whole-number formats go through the look's view, EXR stays working light. */
  encoding: EncodingName | null;
  recipe: string;
  z?: Float32Array;
}

export const isLinearFile = (path: string) => formatOf(path)?.name === "OpenEXR";

/** Depths a file of this name can be written with; the first is the default. */
export function depthsFor(path: string): OutputDepth[] {
  const format = formatOf(path)?.name;
  if (format === "OpenEXR") return ["half", "float"];
  if (format === "PNG") return ["16", "8"];
  return format === "TIFF" ? ["16"] : [];
}

async function encodeFile(path: string, frame: Frame, { depth, encoding, recipe, z }: OutputOptions): Promise<Buffer> {
  const target = encoding && encodingByName(encoding);
  const { width, height, data } = target ? encodeFrame(frame, target) : frame;
  const text = { [RECIPE_ATTRIBUTE]: recipe };
  if (isLinearFile(path)) return writeExr(width, height, data, { depth: depth === "float" ? "float" : "half", primaries: target?.primaries ?? AP1, z, text });
  const format = formatOf(path)?.name === "PNG" ? "png" : "tiff";
  return writeRaster(width, height, data, format, depth === "8" ? "u8" : "u16", `${RECIPE_ATTRIBUTE}=${recipe}`);
}

/** Writes under a temporary name and renames, so that a frame is either whole or not there. */
export async function writeFrame(path: string, frame: Frame, options: OutputOptions): Promise<void> {
  const bytes = await encodeFile(path, frame, options);
  const temporary = join(dirname(path), `.${basename(path)}.${randomBytes(4).toString("hex")}.part`);
  try {
    await writeFile(temporary, bytes);
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}
