/** Small lamps in the dark: the frame's lamps, and whether they are points of light or discs of the iris. */
import { type Blob, blobsOf } from "../blobs";
import type { Channel, Chart } from "../chart";
import { MeasureError, type Plane } from "../plane";

/** A lamp is lighter than this share of the lightest, and has so many pixels at least. */
const LAMP = 0.15;
const FEWEST_PIXELS = 4;
/** More pixels than this are no small lamp: it is out of focus, and its disc is the iris. */
const LARGEST_POINT = 600;
/** Lamps are so much lighter than the dark between them. */
const MIN_CONTRAST = 50;

export interface Lamps {
  lamps: Blob[];
  /** Out of focus: discs of the iris. */
  areDiscs: boolean;
}

/** The mean of the channels: what a lamp is found in, whatever its colour. */
export function lightOf({ channels: { red, green, blue } }: Pick<Chart, "channels">): Plane {
  const { width, height } = green;
  const data = Float64Array.from(
    { length: width * height },
    (_, i) => (red.data[i]! + green.data[i]! + blue.data[i]!) / 3,
  );
  return { width, height, data };
}

export const CHANNELS: readonly Channel[] = ["red", "green", "blue"];

/** The lamps of a frame. Throws MeasureError where there are none, or not all of them are of one kind. */
export function lampsOf(light: Plane): Lamps {
  const sorted = Float64Array.from(light.data).sort();
  const [dark, lightest] = [sorted[sorted.length >> 1]!, sorted.at(-1)!];
  if (!(lightest > MIN_CONTRAST * Math.max(0, dark)))
    throw new MeasureError(`the lamps are not ${MIN_CONTRAST} times as light as the dark between them`);
  const lamps = blobsOf(light, LAMP * lightest).filter(({ area }) => area >= FEWEST_PIXELS);
  if (!lamps.length) throw new MeasureError("there is no lamp in the frame that lies clear of its edge");
  const discs = lamps.filter(({ area }) => area > LARGEST_POINT).length;
  if (discs && discs < lamps.length)
    throw new MeasureError("some lamps are points of light and some are discs; shoot them in focus, or all out of it");
  return { lamps, areDiscs: discs > 0 };
}
