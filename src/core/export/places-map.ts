/** A look's geometry as a picture of places, as profile/distortion-map has a lens's. */
import type { Places } from "../judge/places";

/** Steps to the place that comes from another one, at most; each is closer by the displacement's slope. */
const MAX_STEPS = 40;
/** Closer than this is there, px. */
const NEAR = 1e-4;

/** A plane between four pixels, and beyond the last as it is there. */
function between(plane: Float32Array, { width, height }: Places, x: number, y: number): number {
  const inX = Math.min(width - 1, Math.max(0, x));
  const inY = Math.min(height - 1, Math.max(0, y));
  const [left, top] = [Math.min(width - 2, Math.floor(inX)), Math.min(height - 2, Math.floor(inY))];
  const [right, down] = [inX - left, inY - top];
  const at = top * width + left;
  const upper = plane[at]! * (1 - right) + plane[at + 1]! * right;
  const lower = plane[at + width]! * (1 - right) + plane[at + width + 1]! * right;
  return upper * (1 - down) + lower * down;
}

/** How far places lie from where they are fetched. */
function displacement({ x, y, width }: Places): { x: Float32Array; y: Float32Array } {
  return { x: x.map((place, i) => place - (i % width)), y: y.map((place, i) => place - Math.floor(i / width)) };
}

/**
 * Of each pixel, where it is fetched from: RGBA, across in red and up in green as shares of the picture's size, pixel
 * centres at (i + 0.5) / n. It does to a picture what the look's geometry does; `inverse`: it takes that off. At least
 * 2 x 2 px.
 */
export function placesMap(places: Places, inverse = false): Float32Array {
  const { width, height } = places;
  const map = new Float32Array(4 * width * height);
  const put = (i: number, x: number, y: number) => {
    map[4 * i] = (x + 0.5) / width;
    map[4 * i + 1] = 1 - (y + 0.5) / height;
    map[4 * i + 3] = 1;
  };
  if (!inverse) {
    for (let i = 0; i < width * height; i++) put(i, places.x[i]!, places.y[i]!);
    return map;
  }
  const moved = displacement(places);
  for (let row = 0, i = 0; row < height; row++)
    for (let column = 0; column < width; column++, i++) {
      let [x, y] = [column, row];
      for (let step = 0; step < MAX_STEPS; step++) {
        const [nextX, nextY] = [column - between(moved.x, places, x, y), row - between(moved.y, places, x, y)];
        const isThere = Math.abs(nextX - x) + Math.abs(nextY - y) < NEAR;
        [x, y] = [nextX, nextY];
        if (isThere) break;
      }
      put(i, x, y);
    }
  return map;
}
