/** Where pixels lie on the sensor. Converted from millimetres once, here. */
export interface FrameGeometry {
  width: number;
  height: number;
  /** mm a pixel on the sensor. */
  pitchX: number;
  pitchY: number;
  /** The optical axis in pixel indices (the first pixel's centre is 0). */
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

export function frameGeometry(width: number, height: number, sensor: Sensor, squeeze: number): FrameGeometry {
  return {
    width,
    height,
    pitchX: sensor.width / width,
    pitchY: sensor.height / height,
    axisX: (width - 1) / 2,
    axisY: (height - 1) / 2,
    squeeze,
  };
}

/** Image height of the frame's corner, mm. */
export function cornerHeight({ width, height, pitchX, pitchY }: FrameGeometry): number {
  return Math.hypot((width / 2) * pitchX, (height / 2) * pitchY);
}
