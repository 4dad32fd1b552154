import { MeasureError } from "../plane";
import { type Axes, axesOf } from "./axes";
import { followLine, type Page } from "./follow";
import type { PrintedSpec, ReadCurve } from "./spec";

/** A curve is told at so many places at most. */
const MAX_PLACES = 160;
/** How sure a place on a page is, px: a point that was set by hand, and a line that was followed. */
const BY_HAND = 1;
const FOLLOWED = 0.25;
/** A line may stand out of its axes by this share before it is cut off. */
const OVER = 0.005;

type Point = readonly [number, number];

/** Values of y that a px of the page along its axis is worth, about a share. */
function worthOf(axes: Axes, [u, v]: Point): number {
  const step = 1 / Math.hypot(...axes.along.y);
  return Math.abs(axes.valueOf([u, v + step / 2])[1] - axes.valueOf([u, v - step / 2])[1]);
}

/**
 * Evenly chosen places, each the middle of those about it: what is drawn finer than the printer's dots is not there.
 */
function thinned(shares: Point[]): Point[] {
  const each = Math.max(1, Math.ceil(shares.length / MAX_PLACES));
  const groups = Array.from({ length: Math.ceil(shares.length / each) }, (_, i) =>
    shares.slice(i * each, (i + 1) * each),
  );
  return groups.map((group) => [
    group.reduce((sum, [u]) => sum + u, 0) / group.length,
    group.reduce((sum, [, v]) => sum + v, 0) / group.length,
  ]);
}

/**
 * The values of a line's places (px of the page). `isFollowed`: they are every column's, and not points set by hand.
 * Throws MeasureError where too few of them lie between the axis's marks.
 */
export function readLine(marked: PrintedSpec["axes"], places: readonly Point[], isFollowed: boolean): ReadCurve {
  const axes = axesOf(marked);
  const shares = places.map(axes.shareAt).filter(([u]) => !isFollowed || (u >= -OVER && u <= 1 + OVER));
  if (shares.length < 2) throw new MeasureError("fewer than two places of it lie between the marks of the x axis");
  const kept = (isFollowed ? thinned(shares) : shares).toSorted((a, b) => a[0] - b[0]);
  const values = kept.map(axes.valueOf);
  return {
    x: values.map(([x]) => Number(x.toPrecision(6))),
    y: values.map(([, y]) => Number(y.toPrecision(6))),
    uncertainty: kept.map((share) => Number((worthOf(axes, share) * (isFollowed ? FOLLOWED : BY_HAND)).toPrecision(2))),
  };
}

/** The curves of a page by its axes. Throws MeasureError that names the curve which cannot be read. */
export function readPrinted(page: Page | null, { axes, curves }: PrintedSpec): ReadCurve[] {
  return curves.map((curve, i) => {
    try {
      if (!curve.from) return readLine(axes, curve.points!, false);
      if (!page) throw new MeasureError("there is no page to follow it on");
      return readLine(axes, followLine(page, curve.from), true);
    } catch (error) {
      throw error instanceof MeasureError ? new MeasureError(`curves.${i}: ${error.message}`) : error;
    }
  });
}
