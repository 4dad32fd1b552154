/**
 * Camera calibrations as computer vision writes them: a camera matrix in pixels, distortion coefficients k1 k2 p1 p2 k3,
 * and the size of the pictures they were made of.
 */
import { z } from "zod";
import { distortionAt, lensOfDistortion, type LensProfile } from "./lens";

/** A matrix of numbers, by rows: nested, or as rows, columns and data. */
const matrix = z.union([
  z.array(z.array(z.number())).transform((rows) => rows.flat()),
  z.object({ data: z.array(z.number()) }).transform(({ data }) => data),
  z.array(z.number()),
]);

const MAX_PIXELS = 65536;
const side = z.number().int().positive().max(MAX_PIXELS);

export const calibrationSchema = z
  .object({
    image_width: side,
    image_height: side,
    camera_matrix: matrix.refine(({ length }) => length === 9, "has three rows of three numbers"),
    distortion_coefficients: matrix.refine(
      ({ length }) => length >= 4 && length <= 14,
      "are 4, 5, 8, 12 or 14 numbers",
    ),
  })
  .loose();
export type Calibration = z.infer<typeof calibrationSchema>;

/** A calibration that says what a profile cannot hold. */
export class CalibrationProblem extends Error {}

/** Focal lengths across and down may differ by this share: pixels are square. */
const SQUARE = 0.01;
/** A further coefficient below this does nothing. */
const NOTHING = 1e-9;

/**
 * A lens with the distortion of a calibration. `sensorWidth`: mm across the pictures, from which the focal length comes.
 * Throws CalibrationProblem.
 */
export function lensOfCalibration(
  { image_width, camera_matrix, distortion_coefficients }: Calibration,
  sensorWidth: number,
  head: { id: string; name: string },
): LensProfile {
  const [fx, , , , fy] = camera_matrix as [number, number, number, number, number];
  if (!(fx > 0 && fy > 0)) throw new CalibrationProblem("camera_matrix: its focal lengths are not above 0");
  if (Math.abs(fy / fx - 1) > SQUARE)
    throw new CalibrationProblem(`camera_matrix: pixels are not square: ${fx} px across, ${fy} px down`);
  const [k1, k2, p1, p2, k3 = 0, ...further] = distortion_coefficients as [number, number, number, number, number?];
  if (further.some((value) => Math.abs(value as number) > NOTHING))
    throw new CalibrationProblem(
      "distortion_coefficients: beyond k1 k2 p1 p2 k3 there are others, of a rational, thin-prism or tilted model; calibrate without them",
    );
  const focalLength = Number(((fx * sensorWidth) / image_width).toFixed(4));
  return lensOfDistortion(head, {
    focalLength,
    model: "radial-tangential",
    coefficients: { k1, k2, k3, p1, p2 },
    origin: { kind: "measured", how: "a camera calibration" },
  });
}

/**
 * The calibration that a lens's distortion is, at a focal length (mm), for pictures of a size on a sensor (mm). Throws
 * CalibrationProblem for a lens that has none, or one that is not radial and tangential.
 */
export function calibrationOf(
  lens: LensProfile,
  focalLength: number,
  size: { width: number; height: number },
  sensorWidth: number,
): Calibration {
  if (!lens.distortion?.length) throw new CalibrationProblem("distortion: the profile has none");
  if (lens.distortion.some(({ model }) => model !== "radial-tangential"))
    throw new CalibrationProblem("distortion: is anamorphic, which a calibration does not hold; write a map instead");
  const { x20, x40, k3, p1, p2 } = distortionAt(lens, focalLength)!;
  const focal = (focalLength * size.width) / sensorWidth;
  return {
    image_width: size.width,
    image_height: size.height,
    camera_matrix: [focal, 0, (size.width - 1) / 2, 0, focal, (size.height - 1) / 2, 0, 0, 1],
    distortion_coefficients: [x20, x40, p1, p2, k3],
  };
}
