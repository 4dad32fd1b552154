import { blobsOf } from "./blobs";
import { median, MeasureError, type Plane } from "./plane";

/** A dot of a chart: its centre and radius, px. */
export interface Dot {
  x: number;
  y: number;
  radius: number;
}

/** The ground is taken tile by tile, this many to the picture's height. */
const TILES = 12;
const MIN_TILE = 32;
/** A dot's contrast against the ground is taken from the strongest of this share of the pixels. */
const STRONGEST = 0.002;
/** Less contrast than this is no chart. */
const MIN_CONTRAST = 0.1;
/** A pixel of a dot has at least this share of a dot's contrast. */
const WITHIN = 0.4;
/** Areas of dots, against the middle one's. */
const SMALLEST = 0.4;
const LARGEST = 2.5;
const FEWEST_PIXELS = 4;
/**
 * A dot fills this share of the ellipse in its bounding box at least, and is no longer than this against its width; a
 * scratch is.
 */
const MIN_FILLED = 0.6;
const LONGEST = 2.5;
/** Deviation of the window a centre is found in, radii of the dot, and how often it is moved there. */
const WINDOW = 1;
const ROUNDS = 25;

/** The chart's contrast against its ground, dots positive whether they are dark or light. */
export function contrastOfDots({ width, height, data }: Plane): Plane {
  const tile = Math.max(MIN_TILE, Math.round(height / TILES));
  const [columns, rows] = [Math.max(1, Math.round(width / tile)), Math.max(1, Math.round(height / tile))];
  const grounds = Array.from({ length: columns * rows }, (_, k) => {
    const [left, right] = [k % columns, (k % columns) + 1].map((i) => Math.round((i * width) / columns)) as [
      number,
      number,
    ];
    const [top, bottom] = [Math.floor(k / columns), Math.floor(k / columns) + 1].map((j) =>
      Math.round((j * height) / rows),
    ) as [number, number];
    const w = right - left;
    return median(
      Float64Array.from(
        { length: w * (bottom - top) },
        (_, i) => data[(top + Math.floor(i / w)) * width + left + (i % w)]!,
      ),
    );
  });
  /** Index of the tile before a place, and how far towards the next, between the tiles' middles. */
  const between = (at: number, length: number, count: number): [number, number] => {
    const position = Math.min(count - 1, Math.max(0, ((at + 0.5) * count) / length - 0.5));
    const i = Math.min(Math.floor(position), Math.max(0, count - 2));
    return [i, position - i];
  };
  const out = new Float64Array(width * height);
  for (let y = 0; y < height; y++) {
    const [j, v] = between(y, height, rows);
    for (let x = 0; x < width; x++) {
      const [i, u] = between(x, width, columns);
      const ground = (dx: number, dy: number) =>
        grounds[Math.min(rows - 1, j + dy) * columns + Math.min(columns - 1, i + dx)]!;
      const level =
        (ground(0, 0) * (1 - u) + ground(1, 0) * u) * (1 - v) + (ground(0, 1) * (1 - u) + ground(1, 1) * u) * v;
      out[y * width + x] = data[y * width + x]! / Math.max(level, 1e-9) - 1;
    }
  }
  const sorted = out.slice().sort();
  const end = Math.max(1, Math.floor(sorted.length * STRONGEST));
  const [dark, light] = [-sorted[end]!, sorted[sorted.length - 1 - end]!];
  if (!(Math.max(dark, light) > MIN_CONTRAST)) throw new MeasureError("There are no dots in the picture");
  const scale = dark > light ? -1 / dark : 1 / light;
  return { width, height, data: out.map((value) => value * scale) };
}

/**
 * The dots of a contrast plane, roughly placed; what touches the edge, or is too small, too large or too long, is none.
 */
export function findDots(contrast: Plane): Dot[] {
  const blobs = blobsOf(contrast, WITHIN).filter(({ area, left, right, top, bottom }) => {
    const [across, down] = [right - left + 1, bottom - top + 1];
    const isFilled = area >= MIN_FILLED * (Math.PI / 4) * across * down;
    return area >= FEWEST_PIXELS && isFilled && Math.max(across, down) <= LONGEST * Math.min(across, down);
  });
  if (!blobs.length) throw new MeasureError("There are no dots in the picture");
  const usual = median(Float64Array.from(blobs, ({ area }) => area));
  return blobs
    .filter(({ area }) => area > SMALLEST * usual && area < LARGEST * usual)
    .map(({ x, y, area }) => ({ x, y, radius: Math.sqrt(area / Math.PI) }));
}

/**
 * A dot's centre to a fraction of a pixel: the centroid under a Gaussian window that is moved onto it until it rests.
 * Null where the window leaves the picture or finds nothing.
 */
export function centreOf({ width, height, data }: Plane, dot: Dot): { x: number; y: number } | null {
  const sigma = Math.max(1.2, WINDOW * dot.radius);
  const half = Math.ceil(3 * sigma);
  let { x, y } = dot;
  for (let round = 0; round < ROUNDS; round++) {
    const [cx, cy] = [Math.round(x), Math.round(y)];
    if (cx - half < 0 || cy - half < 0 || cx + half >= width || cy + half >= height) return null;
    let [sum, sx, sy] = [0, 0, 0];
    for (let j = cy - half; j <= cy + half; j++)
      for (let i = cx - half; i <= cx + half; i++) {
        const weight = data[j * width + i]! * Math.exp(-((i - x) ** 2 + (j - y) ** 2) / (2 * sigma * sigma));
        [sum, sx, sy] = [sum + weight, sx + weight * (i - x), sy + weight * (j - y)];
      }
    if (!(sum > 0)) return null;
    const [dx, dy] = [sx / sum, sy / sum];
    [x, y] = [x + dx, y + dy];
    if (Math.hypot(dx, dy) < 1e-4) break;
  }
  return Math.hypot(x - dot.x, y - dot.y) < Math.max(2, 2 * dot.radius) ? { x, y } : null;
}
