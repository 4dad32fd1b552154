import type { Plane } from "./plane";

/** Pixels that hang together, px. */
export interface Blob {
  /** Centroid, weighted by the pixels' values. */
  x: number;
  y: number;
  /** Pixels. */
  area: number;
  /** Bounding box, inclusive. */
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Every group of pixels of at least a value that touch by their sides and do not touch the picture's edge. */
export function blobsOf({ width, height, data }: Plane, least: number): Blob[] {
  const seen = new Uint8Array(width * height);
  const blobs: Blob[] = [];
  for (let start = 0; start < seen.length; start++) {
    if (seen[start] || data[start]! < least) continue;
    const stack = [start];
    seen[start] = 1;
    let [area, sum, sx, sy] = [0, 0, 0, 0];
    let [left, right, top, bottom] = [width, 0, height, 0];
    while (stack.length) {
      const i = stack.pop()!;
      const [x, y] = [i % width, Math.floor(i / width)];
      const v = data[i]!;
      [area, sum, sx, sy] = [area + 1, sum + v, sx + v * x, sy + v * y];
      [left, right, top, bottom] = [Math.min(left, x), Math.max(right, x), Math.min(top, y), Math.max(bottom, y)];
      const near = [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width];
      for (const k of near)
        if (k >= 0 && k < seen.length && !seen[k] && data[k]! >= least) {
          seen[k] = 1;
          stack.push(k);
        }
    }
    if (left === 0 || top === 0 || right === width - 1 || bottom === height - 1) continue;
    blobs.push({ x: sx / sum, y: sy / sum, area, left, right, top, bottom });
  }
  return blobs;
}
