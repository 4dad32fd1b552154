/**
 * Straight edges of a picture: pixels whose light changes in one direction are gathered into regions, and a line is put
 * through each, after the line segment detector of Grompone von Gioi and others (2010).
 */
import type { Plane } from "../plane";

/** A straight edge: its middle, px; the way along it, a unit vector; its length and how softly it changes, px. */
export interface Segment {
  x: number;
  y: number;
  along: readonly [number, number];
  length: number;
  /** Standard deviation of the change across the edge, px. */
  softness: number;
}

/** Change of light a pixel, and its direction as a unit vector. */
interface Gradient {
  width: number;
  height: number;
  size: Float32Array;
  x: Float32Array;
  y: Float32Array;
}

/** Changes below this share of the picture's steepest are no edge: what is left of the softest corner is above it. */
const MIN_SHARE = 0.04;
/** The steepest change is taken as what one pixel in so many exceeds, so that a damaged pixel is none. */
const STEEPEST_OF = 2000;
/** Directions of one edge differ by less than this, degrees. */
const ALIKE_DEGREES = 22.5;
const MIN_PIXELS = 40;

/** Rows and columns smoothed by 1, 2, 1, so that a pixel's noise has no direction. */
function smoothed({ width, height, data }: Plane): Float32Array {
  const rows = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width;
      const [before, after] = [Math.max(0, x - 1), Math.min(width - 1, x + 1)];
      rows[at + x] = (data[at + before]! + 2 * data[at + x]! + data[at + after]!) / 4;
    }
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const [above, below] = [Math.max(0, y - 1) * width, Math.min(height - 1, y + 1) * width];
    for (let x = 0; x < width; x++)
      out[y * width + x] = (rows[above + x]! + 2 * rows[y * width + x]! + rows[below + x]!) / 4;
  }
  return out;
}

function gradientOf(plane: Plane): Gradient {
  const { width, height } = plane;
  const light = smoothed({ ...plane, data: smoothed(plane) });
  const [size, gx, gy] = [0, 0, 0].map(() => new Float32Array(width * height)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const at = y * width + x;
      const [across, down] = [(light[at + 1]! - light[at - 1]!) / 2, (light[at + width]! - light[at - width]!) / 2];
      const length = Math.hypot(across, down);
      size[at] = length;
      if (length > 0) [gx[at], gy[at]] = [across / length, down / length];
    }
  return { width, height, size, x: gx, y: gy };
}

/** The regions of one direction, as lists of pixels, steepest first. */
function* regionsOf({ width, size, x, y }: Gradient): Generator<number[]> {
  const sorted = Float32Array.from(size).sort();
  const steepest = sorted[sorted.length - 1 - Math.floor(sorted.length / STEEPEST_OF)]!;
  const least = MIN_SHARE * steepest;
  const seeds = [...size.keys()].filter((at) => size[at]! > least).sort((a, b) => size[b]! - size[a]!);
  const taken = new Uint8Array(size.length);
  const alike = Math.cos((ALIKE_DEGREES * Math.PI) / 180);
  const neighbours = [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1];
  for (const seed of seeds) {
    if (taken[seed]) continue;
    taken[seed] = 1;
    const region = [seed];
    let [sumX, sumY] = [x[seed]!, y[seed]!];
    for (let i = 0; i < region.length; i++)
      for (const step of neighbours) {
        const at = region[i]! + step;
        if (taken[at] || !(size[at]! > least)) continue;
        if ((x[at]! * sumX + y[at]! * sumY) / Math.hypot(sumX, sumY) < alike) continue;
        taken[at] = 1;
        region.push(at);
        sumX += x[at]!;
        sumY += y[at]!;
      }
    if (region.length >= MIN_PIXELS) yield region;
  }
}

/** The line through a region: its principal axis, weighed by how much light changes. */
function segmentOf(region: number[], { width, size }: Gradient): Segment {
  let [weight, mx, my] = [0, 0, 0];
  for (const at of region) {
    weight += size[at]!;
    mx += size[at]! * (at % width);
    my += size[at]! * Math.floor(at / width);
  }
  [mx, my] = [mx / weight, my / weight];
  let [xx, xy, yy] = [0, 0, 0];
  for (const at of region) {
    const [dx, dy] = [(at % width) - mx, Math.floor(at / width) - my];
    xx += (size[at]! * dx * dx) / weight;
    xy += (size[at]! * dx * dy) / weight;
    yy += (size[at]! * dy * dy) / weight;
  }
  const turn = Math.atan2(2 * xy, xx - yy) / 2;
  const along = [Math.cos(turn), Math.sin(turn)] as const;
  const [first, last] = region.reduce(
    ([low, high], at) => {
      const t = ((at % width) - mx) * along[0] + (Math.floor(at / width) - my) * along[1];
      return [Math.min(low, t), Math.max(high, t)];
    },
    [Infinity, -Infinity],
  );
  const across = xx * along[1] ** 2 - 2 * xy * along[0] * along[1] + yy * along[0] ** 2;
  const middle = (first + last) / 2;
  return {
    x: mx + middle * along[0],
    y: my + middle * along[1],
    along,
    length: last - first,
    softness: Math.sqrt(Math.max(0, across)),
  };
}

/** The straight edges of a picture, the steepest first. */
export function segmentsIn(plane: Plane): Segment[] {
  const gradient = gradientOf(plane);
  return [...regionsOf(gradient)].map((region) => segmentOf(region, gradient));
}
