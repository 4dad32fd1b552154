/** Distortion maps as EXR files: red is the place across, green the place up, as shares of the picture. */
import { extname } from "node:path";
import { distortionMap, distortionOfMap } from "../../core/profile/distortion-map";
import { distortionAt, type LensProfile } from "../../core/profile/lens";
import { writeExr } from "../../formats/exr/write";
import { loadImage } from "../../formats/formats";
import { UsageError } from "../options";

export const isMap = (path: string) => extname(path).toLowerCase() === ".exr";

interface MapOptions {
  /** mm */
  sensor?: { width: number; height: number };
  /** px */
  size?: { width: number; height: number };
  /** mm */
  focal?: number;
  inverse?: boolean;
}

/** Pixels a map may have, as a picture may. */
const MAX_SIDE = 16384;

/** The lens whose distortion a map is. Throws UsageError. */
export async function lensOfMapFile(
  path: string,
  head: { id: string; name: string },
  { sensor, focal, inverse = false }: MapOptions,
): Promise<LensProfile> {
  if (!sensor || !focal)
    throw new UsageError("--sensor, --focal: say what the map’s pictures were shot on and with, mm");
  const { width, height, pixels, info } = await loadImage(path);
  if (pixels.depth !== "half" && pixels.depth !== "float")
    throw new UsageError(`--in ${path}: a map’s places are floats; its samples are of ${info.depth} bits`);
  const found = distortionOfMap(pixels.data, { width, height, sensor, focalLength: focal }, inverse);
  if (!found) throw new UsageError(`--in ${path}: red and green hold no places, 0 to 1, over most of the picture`);
  const residual = (found.residual * focal * width) / sensor.width;
  return {
    format: "pale-halo-lens",
    version: 1,
    ...head,
    squeeze: 1,
    focalLengths: [focal],
    distortion: [
      {
        ...found.table,
        origin: { kind: "computed", how: "from a distortion map" },
        uncertainty: `${residual.toPrecision(2)} px from the map, root mean square`,
      },
    ],
  };
}

/** An EXR file with the map of a lens's distortion. `beyond`: pixels it holds around the picture. Throws UsageError. */
export function mapFileOf(
  lens: LensProfile,
  { sensor, size, focal, inverse = false, beyond = 0 }: MapOptions & { beyond?: number },
): Promise<Buffer> {
  if (!sensor || !size || !focal) throw new UsageError("--sensor, --size: say what pictures the map is for");
  if (Math.max(size.width, size.height) > MAX_SIDE) throw new UsageError(`--size: a side has at most ${MAX_SIDE} px`);
  const distortion = distortionAt(lens, focal);
  if (!distortion) throw new UsageError(`${lens.id}: the profile has no distortion`);
  const data = distortionMap(distortion, { ...size, sensor, focalLength: focal, beyond }, inverse);
  const display = { left: 0, top: 0, right: size.width - 1, bottom: size.height - 1 };
  const { right, bottom } = display;
  const held = { left: -beyond, top: -beyond, right: right + beyond, bottom: bottom + beyond };
  const picture = { width: size.width + 2 * beyond, height: size.height + 2 * beyond, data, hasAlpha: false };
  return writeExr(picture, { depth: "float", primaries: null, windows: { data: held, display } });
}
