import {
  type AngleHandle,
  DEGREES,
  type HandleFrame,
  type HandleValues,
  type Moved,
  number,
  percentOf,
  type PlacingHandle,
  pixelOf,
  type Point,
  pointAt,
  type PolygonHandle,
  type RadiusHandle,
  rounded,
  withPointAt,
} from "./handle";

export interface Polygon {
  points: readonly Point[];
  /** px */
  rounding: number;
  soft: number;
}

export function polygonAt(handle: PolygonHandle, values: HandleValues, frame: HandleFrame): Polygon {
  const points = (values[handle.points] ?? []) as readonly Point[];
  return {
    points: points.map(([x, y]) => pixelOf(x, y, frame)),
    rounding: (number(values, handle.rounding) / 100) * frame.height,
    soft: (number(values, handle.soft) / 100) * frame.height,
  };
}

export const withPolygonAt = (handle: PolygonHandle, points: readonly Point[], frame: HandleFrame): Moved => ({
  [handle.points]: points.map((point) => percentOf(point, frame)),
});

/** A ray from the frame's centre: radians clockwise from the right, and px; null where it has no length of its own. */
export interface Ray {
  centre: Point;
  angle: number;
  length: number | null;
}

export function rayAt(handle: AngleHandle, values: HandleValues, frame: HandleFrame): Ray {
  return {
    centre: pixelOf(0, 0, frame),
    angle: number(values, handle.angle) / DEGREES,
    length: handle.length === undefined ? null : (number(values, handle.length) / 100) * frame.height,
  };
}

/** An angle nearest to `degrees` a half or a whole turn apart that lies within limits; as it is where none does. */
function withinTurns(degrees: number, { min, max }: { min: number; max: number }): number {
  for (const turn of [0, -360, 360, -180, 180])
    if (degrees + turn >= min && degrees + turn <= max) return degrees + turn;
  return degrees;
}

export function withRayAt(
  handle: AngleHandle,
  { angle, length }: Ray,
  frame: HandleFrame,
  limits: { min: number; max: number },
): Moved {
  return {
    [handle.angle]: rounded(withinTurns(angle * DEGREES, limits)),
    ...(handle.length === undefined || length === null
      ? {}
      : { [handle.length]: rounded((100 * length) / frame.height) }),
  };
}

export interface Circle {
  centre: Point;
  /** px along the picture's height; across it is wider by the squeeze. */
  radius: number;
}

const cornerOf = ({ width, height }: HandleFrame) => Math.hypot(width / 2, height / 2);

export function circleAt(handle: RadiusHandle, values: HandleValues, frame: HandleFrame): Circle {
  return {
    centre: handle.centre ? pointAt(handle.centre, values, frame) : pixelOf(0, 0, frame),
    radius: (number(values, handle.radius) / 100) * cornerOf(frame),
  };
}

export const withRadiusAt = (handle: RadiusHandle, radius: number, frame: HandleFrame): Moved => ({
  [handle.radius]: rounded((100 * radius) / cornerOf(frame)),
});

/** A picture laid over the frame: its middle, how many times its own size, its turn (radians, clockwise). */
export interface Laid {
  centre: Point;
  size: number;
  turn: number;
}

export const laidAt = (handle: PlacingHandle, values: HandleValues, frame: HandleFrame): Laid => ({
  centre: pointAt(handle, values, frame),
  size: number(values, handle.size) / 100,
  turn: number(values, handle.rotation) / DEGREES,
});

export const withLaidAt = (handle: PlacingHandle, { centre, size, turn }: Laid, frame: HandleFrame): Moved => ({
  ...withPointAt(handle, centre, frame),
  [handle.size]: rounded(100 * size),
  [handle.rotation]: rounded(turn * DEGREES),
});
