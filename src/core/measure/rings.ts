import type { Plane } from "./plane";

/** What a ring holds: its pixels' values and their distances from its middle, px. */
export interface Ring {
  values: Float64Array;
  radii: Float64Array;
}

/** A plane's pixels by ring about (x, y): ring i holds radii from `edges[i]` up to `edges[i + 1]`, px. */
export function ringsOf({ width, height, data }: Plane, x: number, y: number, edges: number[]): Ring[] {
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
  const out = Array.from(counts, (count) => ({ values: new Float64Array(count), radii: new Float64Array(count) }));
  const filled = new Uint32Array(counts.length);
  for (let i = 0; i < rings.length; i++) {
    const ring = rings[i]!;
    if (ring < 0) continue;
    const at = filled[ring]!++;
    out[ring]!.values[at] = data[i]!;
    out[ring]!.radii[at] = Math.hypot((i % width) - x, Math.floor(i / width) - y);
  }
  return out;
}
