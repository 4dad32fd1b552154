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
