import { LUMINANCE_709 } from "../colour/primaries";
import { contrastSensitivity, DEGREES_OF_HEIGHT } from "../colour/vision";

/** Patches of so many pixels a side are looked at. */
const PATCH = 24;
/** Noise below this many codes does not hide the steps of a gradient (a third of a code dithers them). */
const DITHERS = 0.35;
/** Steps closer together than this are no bands, px. */
const MIN_RUN = 4;
/** Exponent of the display's light. */
const GAMMA = 2.4;

interface Patch {
  mean: number;
  /** Signal a pixel, along the steepest way. */
  slope: number;
  /** What is not on the plane, standard deviation. */
  noise: number;
}

/** The plane that a patch of luma lies on, by least squares. */
function patchAt(picture: Float32Array, width: number, left: number, top: number): Patch {
  const half = (PATCH - 1) / 2;
  let [sum, alongX, alongY, squares] = [0, 0, 0, 0];
  for (let y = 0; y < PATCH; y++)
    for (let x = 0; x < PATCH; x++) {
      const at = ((top + y) * width + left + x) * 4;
      const luma =
        LUMINANCE_709[0] * picture[at]! + LUMINANCE_709[1] * picture[at + 1]! + LUMINANCE_709[2] * picture[at + 2]!;
      sum += luma;
      alongX += luma * (x - half);
      alongY += luma * (y - half);
      squares += luma * luma;
    }
  const count = PATCH * PATCH;
  const spread = (count * (PATCH * PATCH - 1)) / 12;
  const mean = sum / count;
  const [slopeX, slopeY] = [alongX / spread, alongY / spread];
  const rest = squares / count - mean ** 2 - (spread / count) * (slopeX ** 2 + slopeY ** 2);
  return { mean, slope: Math.hypot(slopeX, slopeY), noise: Math.sqrt(Math.max(0, rest)) };
}

/** Whether the steps of a gradient at so many bits are seen. */
function isBanded({ mean, slope, noise }: Patch, step: number, degreesOfPixel: number): boolean {
  if (noise > DITHERS * step || mean < 2 * step || mean > 1 - 2 * step) return false;
  const run = step / slope;
  if (!(run >= MIN_RUN) || run > 16 * PATCH) return false;
  const modulation = (GAMMA * step) / (2 * mean);
  return modulation * contrastSensitivity(1 / (2 * run * degreesOfPixel)) > 1;
}

/**
 * The share of a picture in which gradients would be seen to step, at so many bits a channel. `picture`: signal of the
 * display (0 to 1, RGBA) before it is rounded.
 */
export function bandedShare(picture: Float32Array, width: number, height: number, bits: number): number {
  const step = 1 / (2 ** bits - 1);
  const degreesOfPixel = DEGREES_OF_HEIGHT / height;
  let [banded, patches] = [0, 0];
  for (let top = 0; top + PATCH <= height; top += PATCH)
    for (let left = 0; left + PATCH <= width; left += PATCH) {
      patches++;
      if (isBanded(patchAt(picture, width, left, top), step, degreesOfPixel)) banded++;
    }
  return patches ? banded / patches : 0;
}
