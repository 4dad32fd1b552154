/**
 * A lens's distortion as a picture of places: of each pixel, where it is fetched from, across and up as shares of the
 * picture's size, 0 to 1; pixel centres lie at (i + 0.5) / n, and up is positive.
 */
import { distorted, type Distortion } from "./distortion";
import { bestDistortion, type FittedDistortion, type PlacePair } from "./fit-distortion";
import { invertibleRadius, undistorted } from "./undistort";

export interface MapFrame {
  /** px */
  width: number;
  height: number;
  /** mm across and down what the pixels cover. */
  sensor: { width: number; height: number };
  /** mm */
  focalLength: number;
  /** Pixels that the map holds beyond the picture on each side; places stay shares of the picture. */
  beyond?: number;
}

/** From pixels' centres (0 at the top left one) to focal lengths from the axis, and from those to shares. */
function unitsOf({ width, height, sensor, focalLength }: MapFrame) {
  const [perPixelX, perPixelY] = [sensor.width / width / focalLength, sensor.height / height / focalLength];
  return {
    toFocal: (x: number, y: number): [number, number] => [
      (x - (width - 1) / 2) * perPixelX,
      (y - (height - 1) / 2) * perPixelY,
    ],
    toShare: (u: number, v: number): [number, number] => [0.5 + u / perPixelX / width, 0.5 - v / perPixelY / height],
    ofShare: (s: number, t: number): [number, number] => [
      (s - 0.5) * width * perPixelX,
      (0.5 - t) * height * perPixelY,
    ],
  };
}

/**
 * The map of a distortion: RGBA, places across in red and up in green, (width + 2 beyond) x (height + 2 beyond) pixels.
 * It puts the distortion onto a straight picture; `inverse`: it takes the distortion off a picture that has it.
 */
export function distortionMap(distortion: Distortion, frame: MapFrame, inverse = false): Float32Array {
  const { width, height, beyond = 0 } = frame;
  const { toFocal, toShare } = unitsOf(frame);
  const limit = invertibleRadius(distortion, 1);
  const [across, down] = [width + 2 * beyond, height + 2 * beyond];
  const map = new Float32Array(4 * across * down);
  for (let y = 0, i = 0; y < down; y++)
    for (let x = 0; x < across; x++, i += 4) {
      const [u, v] = toFocal(x - beyond, y - beyond);
      const from = inverse ? distorted(distortion, 1, u, v) : undistorted(distortion, 1, limit, u, v);
      [map[i], map[i + 1]] = toShare(...from);
      map[i + 3] = 1;
    }
  return map;
}

/** How many places of a map a model is fitted to, across and down. */
const [ACROSS, DOWN] = [48, 28];

/** A place is used where the map can be fetched there: what a map has not filled is exactly 0 in both. */
const isFilled = (s: number, t: number) => Number.isFinite(s) && Number.isFinite(t) && (s !== 0 || t !== 0);

/**
 * The model that a map bears out; null where too little of it is filled. `map`: RGBA as `distortionMap` makes it.
 * `inverse`: the map takes distortion off.
 */
export function distortionOfMap(map: Float32Array, frame: MapFrame, inverse = false): FittedDistortion | null {
  const { width, height } = frame;
  const { toFocal, ofShare } = unitsOf(frame);
  const pairs: PlacePair[] = [];
  for (let j = 0; j < DOWN; j++)
    for (let i = 0; i < ACROSS; i++) {
      const x = Math.round(((width - 1) * i) / (ACROSS - 1));
      const y = Math.round(((height - 1) * j) / (DOWN - 1));
      const at = 4 * (y * width + x);
      const [s, t] = [map[at]!, map[at + 1]!];
      if (!isFilled(s, t)) continue;
      const [here, from] = [toFocal(x, y), ofShare(s, t)];
      pairs.push(inverse ? { ideal: here, drawn: from } : { ideal: from, drawn: here });
    }
  return pairs.length < (ACROSS * DOWN) / 4 ? null : bestDistortion(pairs, frame.focalLength);
}
