/** What a look's glass makes of a point of light at a place: its spread, as a picture and over the distance. */
import { definitionOf } from "../elements/registry";
import type { Frame } from "../image/image";
import { elementsOf, withElements } from "../look/edit";
import type { Look } from "../look/look";
import { withTaking } from "../look/taking";
import type { Plane } from "../measure/plane";
import { measurePoint, type PointSpread } from "../measure/point";

/** Light of the point: far above any threshold that light is taken by. */
const LIGHT = 1e4;

export interface SpreadAt {
  /** The middle of the picture around the spread's brightest pixel, as shares of the point's light; odd sides, px. */
  picture: Frame;
  /** Light by distance from the spread's own place, each channel. */
  rings: Record<"red" | "green" | "blue", PointSpread>;
}

/** Only the glass of a look: filters and lens, with nothing of film and print, and no lens taken off. */
export const glassOnly = (look: Look): Look =>
  withElements(
    withTaking({ ...look, where: undefined }, undefined),
    elementsOf(look).filter(({ kind }) => ["front", "lens"].includes(definitionOf(kind).station)),
  );

/** A point of light on black at a place, shares of the frame from its top left. */
export function pointFrame(width: number, height: number, [u, v]: readonly [number, number]): Frame {
  const data = new Float32Array(4 * width * height);
  for (let i = 3; i < data.length; i += 4) data[i] = 1;
  const x = Math.min(width - 1, Math.max(0, Math.round(u * (width - 1))));
  const y = Math.min(height - 1, Math.max(0, Math.round(v * (height - 1))));
  data.fill(LIGHT, 4 * (y * width + x), 4 * (y * width + x) + 3);
  return { width, height, data };
}

const planeOf = ({ width, height, data }: Frame, c: number): Plane => ({
  width,
  height,
  data: Float64Array.from({ length: width * height }, (_, i) => data[4 * i + c]!),
});

/** A part of a frame about a place, `reach` px on each side; what lies outside the frame is black. */
function around(frame: Frame, px: number, py: number, reach: number): Frame {
  const side = 2 * reach + 1;
  const data = new Float32Array(4 * side * side);
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const [x, y] = [px - reach + i, py - reach + j];
      const to = 4 * (j * side + i);
      data[to + 3] = 1;
      if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) continue;
      for (let c = 0; c < 3; c++) data[to + c] = frame.data[4 * (y * frame.width + x) + c]! / LIGHT;
    }
  return { width: side, height: side, data };
}

/**
 * The spread of what glass made of a point. `reach`: px of the picture on each side. Throws MeasureError where the point
 * lies too near the frame's edge, or has gone.
 */
export function spreadIn(made: Frame, reach: number): SpreadAt {
  const [red, green, blue] = [0, 1, 2].map((c) => planeOf(made, c)) as [Plane, Plane, Plane];
  const rings = {
    red: measurePoint(red, green),
    green: measurePoint(green),
    blue: measurePoint(blue, green),
  };
  const { x, y } = rings.green;
  return { picture: around(made, Math.round(x), Math.round(y), reach), rings };
}
