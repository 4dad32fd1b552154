/**
 * Where a lens puts light and how it dims and softens it, by the definition of its profile: point by point, with none of
 * the engine's kernels.
 */
import { distorted, type Distortion, UNDISTORTED } from "../../core/profile/distortion";
import { contrastOf, distortionAt, illuminationAt, lateralColourAt, type LensProfile } from "../../core/profile/lens";
import { continued } from "./edge-spread";

export const CHANNELS = ["red", "green", "blue"] as const;
export type Channel = (typeof CHANNELS)[number];

/** A lens at a stop on the camera. Places on the sensor are mm from the axis, x to the right, y down. */
export interface LensOnCamera {
  focalLength: number;
  /** Where on an ideal picture the light at a place of the sensor belongs. */
  idealOf(channel: Channel, x: number, y: number): [number, number];
  /** Light at an image height against that on the axis. */
  light(height: number): number;
  /** Contrast along the radius, and across it, against lp/mm. */
  meridional(height: number): (frequency: number) => number;
  sagittal(height: number): (frequency: number) => number;
}

const MICROMETRES = 1e-3;
const ROUNDS = 60;
/** Focal lengths: far below a thousandth of a pixel. */
const CLOSE = 1e-10;

/** The ideal place (focal lengths from the axis) that a distortion brings to (x, y): fixed point iteration. */
function undistorted(distortion: Distortion, x: number, y: number): [number, number] {
  let [u, v] = [x, y];
  for (let i = 0; i < ROUNDS; i++) {
    const [dx, dy] = distorted(distortion, 1, u, v);
    u += x - dx;
    v += y - dy;
    if (Math.abs(x - dx) + Math.abs(y - dy) < CLOSE) break;
  }
  return [u, v];
}

export function lensOnCamera(lens: LensProfile, focalLength: number, stop: number): LensOnCamera {
  const distortion = distortionAt(lens, focalLength) ?? UNDISTORTED;
  const lateral = {
    red: lateralColourAt(lens, focalLength, "red"),
    green: null,
    blue: lateralColourAt(lens, focalLength, "blue"),
  };
  const last = Math.min(...(lens.mtf ?? []).map(({ frequencies }) => frequencies.at(-1)!));
  const contrast = (direction: "sagittal" | "meridional") => {
    const of = contrastOf(lens, focalLength, stop, direction);
    return (height: number) => (of ? continued((f) => of(f, height), last) : () => 1);
  };
  return {
    focalLength,
    idealOf(channel, x, y) {
      const shift = lateral[channel];
      const height = Math.hypot(x, y);
      // A colour that lies further out than green by so much comes from that much further in.
      const inward = shift && height ? 1 - (shift(height) * MICROMETRES) / height : 1;
      const [u, v] = undistorted(distortion, (x * inward) / focalLength, (y * inward) / focalLength);
      return [u * focalLength, v * focalLength];
    },
    light: illuminationAt(lens, focalLength, stop) ?? (() => 1),
    meridional: contrast("meridional"),
    sagittal: contrast("sagittal"),
  };
}
