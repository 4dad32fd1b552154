/** A lens's distortion the other way round: the ideal place of what the lens has drawn. */
import { NOTHING, memoised } from "../maths/memoise";
import { distorted, type Distortion } from "./distortion";

/** A slope below this is taken as the fold of the picture. */
const MIN_SLOPE = 0.05;
/** No lens sees further from its axis, focal lengths. */
const FARTHEST = 4;

/** Change of the distorted place with the ideal one: [dx/du, dx/dv, dy/du, dy/dv]. */
function slopes(d: Distortion, s: number, u: number, v: number): [number, number, number, number] {
  const h = 1e-6;
  const [[x1, y1], [x0, y0]] = [distorted(d, s, u + h, v), distorted(d, s, u - h, v)];
  const [[x3, y3], [x2, y2]] = [distorted(d, s, u, v + h), distorted(d, s, u, v - h)];
  return [(x1 - x0) / (2 * h), (x3 - x2) / (2 * h), (y1 - y0) / (2 * h), (y3 - y2) / (2 * h)];
}

const DIRECTIONS = Array.from(
  { length: 16 },
  (_, i) => [Math.cos((i * Math.PI) / 8), Math.sin((i * Math.PI) / 8)] as const,
);

/**
 * The radius (focal lengths) up to which the model can be inverted in every direction: where the picture folds over.
 */
export const invertibleRadius = (d: Distortion, s: number): number =>
  radii(NOTHING, JSON.stringify([d, s]), () => searchRadius(d, s));
const radii = memoised<number>(64);

function searchRadius(d: Distortion, s: number): number {
  const folds = (r: number) =>
    DIRECTIONS.some(([x, y]) => {
      const [a, b, c, e] = slopes(d, s, r * x, r * y);
      return a * e - b * c < MIN_SLOPE || a < MIN_SLOPE || e < MIN_SLOPE;
    });
  for (let r = 0; r < FARTHEST; r += 0.005) if (folds(r)) return Math.max(r - 0.005, 0.01);
  return FARTHEST;
}

/**
 * Ideal place of a distorted point (focal lengths from the axis), by Newton's method, as the kernel does it. `s`: how
 * much of the displacement is there; `limit`: the radius it is looked for within, of `invertibleRadius`.
 */
export function undistorted(d: Distortion, s: number, limit: number, tx: number, ty: number): [number, number] {
  let [u, v] = [tx, ty];
  for (let i = 0; i < 8; i++) {
    const [x, y] = distorted(d, s, u, v);
    const [a, b, c, e] = slopes(d, s, u, v);
    const det = a * e - b * c;
    const [du, dv] = [(e * (x - tx) - b * (y - ty)) / det, (a * (y - ty) - c * (x - tx)) / det];
    u -= du;
    v -= dv;
    if (Math.abs(du) + Math.abs(dv) < 1e-9) break;
    if (!(Math.hypot(u, v) <= limit)) [u, v] = [(tx / Math.hypot(tx, ty)) * limit, (ty / Math.hypot(tx, ty)) * limit];
  }
  return [u, v];
}
