/** A picture of a chart, ready to be measured. */
import type { Frame } from "../image/image";
import { MeasureError, type Plane } from "./plane";

export type Channel = "red" | "green" | "blue";

/** Its channels in light, mm a pixel, and where it lies in the frame. */
export interface Chart {
  channels: Record<Channel, Plane>;
  /** mm a pixel. */
  pitch: number;
  /** The region's corner in the frame, px. */
  left: number;
  top: number;
  /** Where the optical axis meets the region, px: the frame's middle. */
  axisX: number;
  axisY: number;
}

/** A part of a picture, px. */
export interface Region {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Pixels are square where the two pitches agree within this share. */
const SQUARE = 0.01;

/**
 * A frame, or a region of it, as a chart. `sensor`: mm. Throws MeasureError where the region or the sensor does not fit
 * the frame.
 */
export function chartOf(frame: Frame, sensor: { width: number; height: number }, region?: Region): Chart {
  const { left, top, width, height } = region ?? { left: 0, top: 0, width: frame.width, height: frame.height };
  if (!width || !height || left + width > frame.width || top + height > frame.height)
    throw new MeasureError(`the region lies outside the picture, which is ${frame.width}x${frame.height}`);
  const [pitch, down] = [sensor.width / frame.width, sensor.height / frame.height];
  if (Math.abs(down / pitch - 1) > SQUARE)
    throw new MeasureError(
      `a sensor of ${sensor.width}x${sensor.height} mm does not have the shape of the picture, which is ${frame.width}x${frame.height}`,
    );
  const plane = (channel: number): Plane => {
    const data = new Float64Array(width * height);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) data[i] = frame.data[((top + y) * frame.width + left + x) * 4 + channel]!;
    return { width, height, data };
  };
  return {
    channels: { red: plane(0), green: plane(1), blue: plane(2) },
    pitch,
    left,
    top,
    axisX: (frame.width - 1) / 2 - left,
    axisY: (frame.height - 1) / 2 - top,
  };
}

/** Within this angle of the radius a normal measures meridional contrast, and beyond its complement sagittal. */
const DIRECTION_TOLERANCE = 30;
/** Nearer to the axis than this, px, there is no radius. */
const ON_AXIS = 8;

/** What an edge measures by its normal at a place of a chart (px), in words. */
export function directionOf(normal: readonly [number, number], x: number, y: number, { axisX, axisY }: Chart): string {
  const [dx, dy] = [x - axisX, y - axisY];
  const away = Math.hypot(dx, dy);
  if (away < ON_AXIS) return "on the axis";
  const angle = (Math.acos(Math.min(1, Math.abs(normal[0] * dx + normal[1] * dy) / away)) * 180) / Math.PI;
  return angle < DIRECTION_TOLERANCE
    ? "meridional"
    : angle > 90 - DIRECTION_TOLERANCE
      ? "sagittal"
      : "between meridional and sagittal";
}
