import type { DepthPlate } from "../frame/depth-plate";
import type { Look } from "./look";

/**
 * What of a look belongs to the shot that wears it, not to the look: how it was taken, and how far things are in it.
 */
export interface ShotCamera {
  /** mm */
  sensorWidth: number;
  /** mm */
  sensorHeight: number;
  squeeze: number;
  /** Other footage that holds distances; null where the footage's own depth channel serves, or there is none. */
  depth: DepthPlate | null;
}

/** A look as a shot wears it: with the shot's camera and depth, whatever the look brought along. */
export function lookOn(look: Look, { sensorWidth, sensorHeight, squeeze, depth }: ShotCamera): Look {
  const { depth: _, ...rest } = look;
  const { taking } = look.camera;
  const sensor = { width: sensorWidth, height: sensorHeight };
  const camera = { sensor, squeeze, ...(taking ? { taking } : {}) };
  return { ...rest, camera, ...(depth ? { depth } : {}) };
}

/**
 * How much wider frames of a size (px) are shown: by the squeeze, or, where that was undone in them, not at all. Which of
 * the two, the sensor's own shape (mm) tells.
 */
export function stretchOf(
  { sensor, squeeze }: Look["camera"],
  { width, height }: { width: number; height: number },
): number {
  const asShot = (sensor.width / sensor.height) * (height / width);
  const asSeen = asShot * squeeze;
  return Math.abs(Math.log(asShot)) <= Math.abs(Math.log(asSeen)) ? squeeze : 1;
}
