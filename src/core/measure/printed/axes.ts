import { MeasureError } from "../plane";
import type { PrintedSpec } from "./spec";

type Point = readonly [number, number];
type Axis = PrintedSpec["axes"]["x"];

/** From places of a page (px) to values on its axes. */
export interface Axes {
  valueAt(place: Point): [x: number, y: number];
  /** Where on its axes a place lies: 0 at an axis's first mark, 1 at its second. */
  shareAt(place: Point): [x: number, y: number];
  /** Values of shares. */
  valueOf(share: Point): [x: number, y: number];
  /** The way of either axis on the page, px from its first mark to its second. */
  along: { x: Point; y: Point };
}

const minus = ([a, b]: Point, [c, d]: Point): Point => [a - c, b - d];

const valueOn = ({ scale, from, to }: Axis, share: number) =>
  scale === "log" ? from.value * (to.value / from.value) ** share : from.value + share * (to.value - from.value);

/**
 * The axes of a page, which may be turned or slightly skewed: a place is so far along one axis's way and so far along
 * the other's. Throws MeasureError where the marks do not span a plane.
 */
export function axesOf({ x, y }: PrintedSpec["axes"]): Axes {
  const along = { x: minus(x.to.at, x.from.at), y: minus(y.to.at, y.from.at) };
  const area = along.x[0] * along.y[1] - along.x[1] * along.y[0];
  const lengths = Math.hypot(...along.x) * Math.hypot(...along.y);
  if (!(Math.abs(area) > 0.1 * lengths))
    throw new MeasureError("the two axes lie in one line; mark each by two places on it");
  const solve = ([dx, dy]: Point): [number, number] => [
    (dx * along.y[1] - dy * along.y[0]) / area,
    (along.x[0] * dy - along.x[1] * dx) / area,
  ];
  // The corner where both are at their first marks: x's mark moved along y, y's moved along x.
  const [, up] = solve(minus(y.from.at, x.from.at));
  const corner: Point = [x.from.at[0] + up * along.y[0], x.from.at[1] + up * along.y[1]];
  const shareAt = (place: Point) => solve(minus(place, corner));
  const valueOf = ([u, v]: Point): [number, number] => [valueOn(x, u), valueOn(y, v)];
  return { along, shareAt, valueOf, valueAt: (place) => valueOf(shareAt(place)) };
}
