import type { Distortion } from "../profile/distortion";

/** What the lens a frame was shot through did to places, as far as it is taken off. */
export interface TakenLens {
  /** mm */
  focalLength: number;
  /** With the share of it that is taken off in its coefficients. */
  distortion: Distortion;
  /** Radial displacement against green, mm, by image height in mm. */
  red: (height: number) => number;
  blue: (height: number) => number;
}
