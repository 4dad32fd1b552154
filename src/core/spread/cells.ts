import { memoised, NOTHING } from "../maths/memoise";
import { to24Bits } from "../maths/precision";

/** Rounds of balancing; each brings sums an order of magnitude nearer to 1. */
const ROUNDS = 40;
/** A Gaussian ends here, in standard deviations. */
const ENDS = 6;
const matrices = memoised<Float32Array>(256);

/**
 * What each of a level's cells along one direction takes from each, as a Gaussian of a variance (cells²) spreads light:
 * row by row. The frame ends at `edge`, perhaps within the last cell. Where it is mirrored, a frame of one light stays
 * so and no light is lost (both sums are balanced, after Sinkhorn, 1964); where black lies outside, light leaves.
 */
export function cellMatrix(count: number, edge: number, variance: number, black: boolean): Float32Array {
  const key = [count, edge, variance, black].join(" ");
  return matrices(NOTHING, key, () => balanced(count, edge, variance, black));
}

function balanced(count: number, edge: number, variance: number, black: boolean): Float32Array {
  const covered = Array.from({ length: count }, (_, i) => Math.min(1, edge - i));
  const centres = covered.map((share, i) => i + share / 2);
  const gaussian = (d: number) => to24Bits(Math.exp((-d * d) / (2 * variance)) / Math.sqrt(2 * Math.PI * variance));
  const mirrors = black ? 0 : Math.ceil((ENDS * Math.sqrt(variance)) / (2 * edge)) + 1;
  const between = (a: number, b: number) => {
    if (black) return gaussian(a - b);
    let sum = 0;
    for (let k = -mirrors; k <= mirrors; k++)
      sum += gaussian(a - (2 * k * edge + b)) + gaussian(a - (2 * k * edge - b));
    return sum;
  };
  const light = centres.map((a) => centres.map((b) => between(a, b)));
  const balance = new Array<number>(count).fill(1);
  if (!black)
    for (let round = 0; round < ROUNDS; round++)
      for (let i = 0; i < count; i++)
        balance[i] = Math.sqrt(
          balance[i]! / light[i]!.reduce((sum, value, j) => sum + value * balance[j]! * covered[j]!, 0),
        );
  return Float32Array.from({ length: count * count }, (_, k) => {
    const [i, j] = [Math.floor(k / count), k % count];
    return balance[i]! * light[i]![j]! * balance[j]! * covered[j]!;
  });
}
