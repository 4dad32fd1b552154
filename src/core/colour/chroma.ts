import type { Triple } from "../maths/matrix";

/**
 * A colour of light on a disc round working white: `u` towards red, `v` from blue towards green, both 0 at white; pure
 * red, green and blue lie on the circle of radius 1. `amount` is the mean of its channels. Linear, so that a way there
 * and back is exact.
 */
export interface Chroma {
  u: number;
  v: number;
  amount: number;
}

const ROOT3 = Math.sqrt(3);

/** Black has no chroma of its own: it is white of no amount. */
export function chromaOf([r, g, b]: Triple | readonly [number, number, number]): Chroma {
  const amount = (r + g + b) / 3;
  if (amount <= 0) return { u: 0, v: 0, amount: 0 };
  return { u: (2 * r - g - b) / (6 * amount), v: (ROOT3 * (g - b)) / (6 * amount), amount };
}

/**
 * The colour at a place of the disc; a place that no light has is drawn in towards white until no channel is below 0.
 */
export function colourAt({ u, v, amount }: Chroma): [number, number, number] {
  const parts = [2 * u, -u + ROOT3 * v, -u - ROOT3 * v];
  const least = Math.min(...parts);
  const scale = least < -1 ? -1 / least : 1;
  return parts.map((part) => amount * (1 + scale * part)) as [number, number, number];
}
