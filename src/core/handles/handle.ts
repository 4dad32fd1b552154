/**
 * Handles: parts of an element or of an area that lie in the picture and are dragged there. An element's definition
 * says which it has, by the names of its values; here those values become places in the frame, and places become values
 * again. Places are px of the frame from its upper left corner; values are in their own units.
 */

/**
 * A point: a light source, an axis. `x` is in % of the frame's width and `y` of its height, from the frame's centre.
 */
export interface PointHandle {
  kind: "point";
  label: string;
  x: string;
  y: string;
}

/**
 * An inner and an outer line, from ellipse to rectangle, about a centre: `x`, `y` as a point's; sizes are whole ones,
 * in % of the frame's height; `rotation` in degrees, clockwise.
 */
export interface LinesHandle {
  kind: "lines";
  label: string;
  x: string;
  y: string;
  rotation: string;
  roundness: string;
  /** The inner line's width and height, or its height and its width to it. */
  inner: { width: string; height: string } | { height: string; aspect: string };
  /** The outer line against the inner one, or its height. */
  outer: { factor: string } | { height: string };
  /** Where the effect is full. */
  full: "inside" | "outside";
  /** A blur of the whole area beyond its lines, % of the frame's height. */
  feather?: string;
}

/** A closed line of points (as a point's), with rounded corners; `soft` and `rounding` in % of the frame's height. */
export interface PolygonHandle {
  kind: "polygon";
  label: string;
  points: string;
  rounding: string;
  soft: string;
}

/** An angle about the frame's centre, degrees, clockwise as the screen has it. */
export interface AngleHandle {
  kind: "angle";
  label: string;
  angle: string;
  /** Whether it is meant on the frame's own pixels, or on the scene as it was before a squeeze. */
  plane: "frame" | "scene";
  /** A length along it that is dragged too, in % of the frame's height. */
  length?: string;
}

/** A circle about a place of the frame, its radius in % of the way from the frame's centre to its corner. */
export interface RadiusHandle {
  kind: "radius";
  label: string;
  radius: string;
  /** Its centre, where it is not the frame's. */
  centre?: { x: string; y: string };
}

/** Where a picture is laid: its middle as a point's, its size in %, its turn in degrees. */
export interface PlacingHandle {
  kind: "placing";
  label: string;
  x: string;
  y: string;
  size: string;
  rotation: string;
}

export type Handle = PointHandle | LinesHandle | PolygonHandle | AngleHandle | RadiusHandle | PlacingHandle;

export type Point = readonly [number, number];
/** The values a handle reads and sets: numbers, and the points of a polygon. */
export type HandleValues = Readonly<Record<string, unknown>>;
/** Values as they are set, by their names. */
export type Moved = Record<string, number | readonly Point[]>;

/** A frame as handles see it, px. */
export interface HandleFrame {
  width: number;
  height: number;
}

export const DEGREES = 180 / Math.PI;
/** Decimals that are kept of what is dragged: a hundredth of a percent is less than a pixel of any frame. */
const DECIMALS = 2;
export const rounded = (value: number) => Number(value.toFixed(DECIMALS));
export const number = (values: HandleValues, name: string) => Number(values[name] ?? 0);

/** From % of the frame's size from its centre to px, and back. */
export const pixelOf = (x: number, y: number, { width, height }: HandleFrame): Point => [
  (0.5 + x / 100) * width,
  (0.5 + y / 100) * height,
];
export const percentOf = ([x, y]: Point, { width, height }: HandleFrame): Point => [
  rounded((x / width - 0.5) * 100),
  rounded((y / height - 0.5) * 100),
];

export function pointAt({ x, y }: { x: string; y: string }, values: HandleValues, frame: HandleFrame): Point {
  return pixelOf(number(values, x), number(values, y), frame);
}

export function withPointAt({ x, y }: { x: string; y: string }, at: Point, frame: HandleFrame): Moved {
  const [across, down] = percentOf(at, frame);
  return { [x]: across, [y]: down };
}
