/** What lies beside an edge beyond the window it is read in: light that changes evenly, and the far part of its spread. */
import { leastSquares } from "../maths/leastSquares";
import { OVERSAMPLING, type Profile } from "./profile";

/**
 * A lens whose contrast falls from the first frequency on, as 1 − a·f, spreads light ever further as T/x²: an edge nears
 * its levels as T/x, and no window holds all of it.
 */
export interface Tail {
  /** Change of light a px, times px²: signed as the edge's step is. */
  size: number;
  /** Its standard error. */
  error: number;
}

/** Surroundings are read from here on, as a share of half the window, and only where the profile goes on so far beyond. */
const FROM = 0.6;
const BEYOND = 1.5;
/** What stands less than this many errors above nothing is nothing. */
const SURE = 3;

/** Levels on both sides of an edge at its line, their change a px, and the tail. */
interface Surroundings {
  after: number;
  before: number;
  slopeAfter: number;
  slopeBefore: number;
  tail: Tail;
}

/** Fits both sides of a whole profile beyond a window that reaches `half` px; null where too little of it lies there. */
function surroundingsOf({ light, variance }: Profile, half: number): Surroundings | null {
  const reach = light.length / 2 / OVERSAMPLING;
  if (reach < BEYOND * half) return null;
  const rows: number[][] = [];
  const values: number[] = [];
  light.forEach((value, i) => {
    const x = (i + 0.5) / OVERSAMPLING - reach;
    if (Math.abs(x) < FROM * half) return;
    const error = Math.sqrt(Math.max(variance[i]!, 1e-18));
    rows.push((x > 0 ? [1, x, 0, 0, -1 / x] : [0, 0, 1, x, -1 / x]).map((term) => term / error));
    values.push(value / error);
  });
  const found = leastSquares(rows, values);
  if (!found) return null;
  const [after, slopeAfter, before, slopeBefore, size] = found.solution as [number, number, number, number, number];
  return { after, before, slopeAfter, slopeBefore, tail: { size, error: found.deviations[4]! } };
}

/**
 * A whole profile without the even change of light along it, as a lens's fall-off and a lamp make it: it is the same
 * share of the light on both sides. What cannot be told apart from the edge stays.
 */
export function flattened(whole: Profile, half: number): Profile {
  const found = surroundingsOf(whole, half);
  if (!found) return whole;
  const { after, before, slopeAfter, slopeBefore } = found;
  const share = (after * slopeAfter + before * slopeBefore) / (after * after + before * before);
  const reach = whole.light.length / 2 / OVERSAMPLING;
  const lightAt = (i: number) => 1 + share * ((i + 0.5) / OVERSAMPLING - reach);
  if (!(lightAt(0) > 0.5 && lightAt(whole.light.length) > 0.5)) return whole;
  return {
    light: whole.light.map((value, i) => value / lightAt(i)),
    variance: whole.variance.map((value, i) => value / lightAt(i) ** 2),
  };
}

/** The tail of an edge's whole profile, beyond a window that reaches `half` px; null where it is not seen. */
export function tailOf(whole: Profile, half: number): Tail | null {
  const found = surroundingsOf(whole, half);
  if (!found) return null;
  const { after, before, tail } = found;
  const isSure = Math.sign(tail.size) === Math.sign(after - before) && Math.abs(tail.size) > SURE * tail.error;
  return isSure ? tail : null;
}

/** px: beyond, a tail's own light is added up in closed form. */
const FAR = 400;
const STEP = 0.25;

/**
 * What a tail adds to the transform of an edge's slope at a frequency (cycles/px), where a window lets through `share`
 * of it at each distance (px); both sides.
 */
export function tailTransform(size: number, f: number, share: (distance: number) => number): number {
  let sum = 0;
  for (let x = STEP / 2; x < FAR; x += STEP) {
    const missing = 1 - share(x);
    if (missing > 0) sum += (missing / (x * x)) * Math.cos(2 * Math.PI * f * x) * STEP;
  }
  // Beyond, waves cancel out but for the slowest.
  const rest = f === 0 ? 1 / FAR : 0;
  return 2 * size * (sum + rest);
}
