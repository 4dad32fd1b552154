import { NO_OVERSCAN, type Overscan } from "../image/overscan";

/** Where pixels lie on the sensor. Converted from millimetres once, here. */
export interface FrameGeometry {
  /** What is shown of the frame, px; buffers are larger where there is overscan. */
  width: number;
  height: number;
  /** mm a pixel on the sensor. */
  pitchX: number;
  pitchY: number;
  /** The optical axis in pixel indices of a buffer (its first pixel's centre is 0). */
  axisX: number;
  axisY: number;
  /** Horizontal compression of the lens in front of the sensor. */
  squeeze: number;
}

export interface Sensor {
  /** mm */
  width: number;
  height: number;
}

export function frameGeometry(
  width: number,
  height: number,
  sensor: Sensor,
  squeeze: number,
  { left, top }: Overscan = NO_OVERSCAN,
): FrameGeometry {
  return {
    width,
    height,
    pitchX: sensor.width / width,
    pitchY: sensor.height / height,
    axisX: left + (width - 1) / 2,
    axisY: top + (height - 1) / 2,
    squeeze,
  };
}

/** Image height of the frame's corner, mm. */
export function cornerHeight({ width, height, pitchX, pitchY }: FrameGeometry): number {
  return Math.hypot((width / 2) * pitchX, (height / 2) * pitchY);
}
