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

/** The curves of a page by its axes. Throws MeasureError that names the curve which cannot be read. */
export function readPrinted(page: Page | null, { axes: marked, curves }: PrintedSpec): ReadCurve[] {
  const axes = axesOf(marked);
  return curves.map((curve, i) => {
    const name = `curves.${i}`;
    try {
      if (curve.from && !page) throw new MeasureError("there is no page to follow it on");
      const places = curve.from ? followLine(page!, curve.from) : curve.points!;
      const shares = places.map(axes.shareAt).filter(([u]) => curve.points || (u >= -OVER && u <= 1 + OVER));
      if (shares.length < 2) throw new MeasureError("fewer than two places of it lie between the marks of the x axis");
      const kept = (curve.points ? shares : thinned(shares)).toSorted((a, b) => a[0] - b[0]);
      const values = kept.map(axes.valueOf);
      return {
        x: values.map(([x]) => Number(x.toPrecision(6))),
        y: values.map(([, y]) => Number(y.toPrecision(6))),
        uncertainty: kept.map((share) =>
          Number((worthOf(axes, share) * (curve.points ? BY_HAND : FOLLOWED)).toPrecision(2)),
        ),
      };
    } catch (error) {
      throw error instanceof MeasureError ? new MeasureError(`${name}: ${error.message}`) : error;
    }
  });
}
