import { monotoneCubic } from "./interpolate";

/** Points of a drawn curve, by ascending x. */
export type CurvePoints = readonly (readonly [x: number, y: number])[];

export const FEWEST_POINTS = 2;
export const MAX_POINTS = 16;
/** Points nearer than this along x are one. */
export const MIN_APART = 1e-3;

/** Steps down from point to point are raised to this, so that what is brighter stays brighter. */
const MIN_STEP = 0.02;

/**
 * A monotone spline through points (Fritsch and Carlson), straight at a slope of 1 beyond them; `strength` multiplies
 * how far the points stand from the diagonal. It never comes down.
 */
export function curveThrough(points: CurvePoints, strength = 1): (x: number) => number {
  const xs = points.map(([x]) => x);
  const raised = points.map(([x, y]) => x + strength * (y - x));
  for (let i = 1; i < raised.length; i++) raised[i] = Math.max(raised[i]!, raised[i - 1]! + MIN_STEP);
  const spline = monotoneCubic(xs, raised);
  const [first, last] = [xs[0]!, xs.at(-1)!];
  return (x) => (x < first ? raised[0]! + x - first : x > last ? raised.at(-1)! + x - last : spline(x));
}

/** Whether a curve changes nothing. */
export const isDiagonal = (points: CurvePoints): boolean => points.every(([x, y]) => x === y);
