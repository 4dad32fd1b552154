import type { Plane } from "./plane";

/** Values of a plane by ring about (x, y): ring i holds radii from `edges[i]` up to `edges[i + 1]`, px. */
export function ringsOf({ width, height, data }: Plane, x: number, y: number, edges: number[]): Float64Array[] {
  const ringAt = (px: number, py: number) => {
    const radius = Math.hypot(px - x, py - y);
    if (radius < edges[0]! || radius >= edges.at(-1)!) return -1;
    let [low, high] = [0, edges.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (edges[middle]! <= radius) low = middle;
      else high = middle;
    }
    return low;
  };
  const counts = new Uint32Array(edges.length - 1);
  const rings = new Int16Array(width * height);
  for (let i = 0; i < rings.length; i++) {
    const ring = ringAt(i % width, Math.floor(i / width));
    rings[i] = ring;
    if (ring >= 0) counts[ring]!++;
  }
  const values = Array.from(counts, (count) => new Float64Array(count));
  const filled = new Uint32Array(counts.length);
  for (let i = 0; i < rings.length; i++) if (rings[i]! >= 0) values[rings[i]!]![filled[rings[i]!]!++] = data[i]!;
  return values;
}

/** The radius that halves a ring's area, px. */
export const middleRadius = (inner: number, outer: number) => Math.sqrt((inner ** 2 + outer ** 2) / 2);
