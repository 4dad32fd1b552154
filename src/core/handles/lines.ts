import { superellipsePower } from "../maths/superellipse";
import {
  DEGREES,
  type HandleFrame,
  type HandleValues,
  type LinesHandle,
  type Moved,
  number,
  type Point,
  pointAt,
  rounded,
  withPointAt,
} from "./handle";

/** Two lines in the frame: half extents of the inner one along its own axes and their turn (radians, clockwise). */
export interface Lines {
  centre: Point;
  a: number;
  b: number;
  turn: number;
  /** 0: a rectangle with rounded corners; 1: an ellipse. */
  roundness: number;
  /** The outer line against the inner one. */
  outer: number;
  /** px; null where there is none to set. */
  feather: number | null;
}

/** Least distance of the outer line from the inner one, against it. */
const MIN_OUTER = 1.01;

/** How far out a place lies, as the lines count: 1 on the inner line, `outer` on the outer one. */
export function reachOf({ centre, a, b, turn, roundness }: Lines, [x, y]: Point): number {
  const [dx, dy] = [x - centre[0], y - centre[1]];
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const power = superellipsePower(roundness);
  return (Math.abs((dx * c + dy * s) / a) ** power + Math.abs((dy * c - dx * s) / b) ** power) ** (1 / power);
}

/** The place at an angle (radians about the lines' own axes) of the line so many times the inner one. */
export function onLine({ centre, a, b, turn, roundness }: Lines, times: number, angle: number): Point {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const power = 2 / superellipsePower(roundness);
  const along = (value: number) => Math.sign(value) * Math.abs(value) ** power * times;
  const [u, v] = [a * along(Math.cos(angle)), b * along(Math.sin(angle))];
  return [centre[0] + u * c - v * s, centre[1] + u * s + v * c];
}

/** The inner line through a place; the outer one stays where it is, as far as it can. */
export function withInnerThrough(lines: Lines, at: Point): Lines {
  const reach = Math.max(reachOf(lines, at), 0.01);
  return {
    ...lines,
    a: lines.a * reach,
    b: lines.b * reach,
    outer: Math.max(MIN_OUTER, lines.outer / reach),
  };
}

/** The outer line through a place. */
export const withOuterThrough = (lines: Lines, at: Point): Lines => ({
  ...lines,
  outer: Math.max(MIN_OUTER, reachOf(lines, at)),
});

/** Half of a size in % of height, px. */
const half = (percent: number, { height }: HandleFrame) => ((percent / 100) * height) / 2;
const percentOfHalf = (px: number, { height }: HandleFrame) => rounded((200 * px) / height);

export function linesAt(handle: LinesHandle, values: HandleValues, frame: HandleFrame): Lines {
  const { inner, outer } = handle;
  const b = half(number(values, inner.height), frame);
  const a = "width" in inner ? half(number(values, inner.width), frame) : b * number(values, inner.aspect);
  return {
    centre: pointAt(handle, values, frame),
    a,
    b,
    turn: number(values, handle.rotation) / DEGREES,
    roundness: number(values, handle.roundness),
    outer: "factor" in outer ? number(values, outer.factor) : half(number(values, outer.height), frame) / b,
    feather: handle.feather === undefined ? null : (number(values, handle.feather) / 100) * frame.height,
  };
}

export function withLinesAt(handle: LinesHandle, lines: Lines, frame: HandleFrame): Moved {
  const { inner, outer, rotation } = handle;
  const { a, b } = lines;
  return {
    ...withPointAt(handle, lines.centre, frame),
    [inner.height]: percentOfHalf(b, frame),
    ...("width" in inner ? { [inner.width]: percentOfHalf(a, frame) } : { [inner.aspect]: rounded(a / b) }),
    ...("factor" in outer
      ? { [outer.factor]: rounded(lines.outer) }
      : { [outer.height]: percentOfHalf(b * lines.outer, frame) }),
    [rotation]: rounded(lines.turn * DEGREES),
    ...(handle.feather === undefined || lines.feather === null
      ? {}
      : { [handle.feather]: rounded((100 * lines.feather) / frame.height) }),
  };
}
