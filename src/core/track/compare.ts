import { type Gray, type GrayPart } from "./gray";
import { hessianOf, type Level, normalise, type Pose, sample } from "./template";

/** What is found under a pose, against the region. */
export interface Comparison {
  found: Float32Array;
  /** The region as it is compared, and each sample's weight: nothing for those outside the frame, which nobody sees. */
  value: Float32Array;
  weight: Float32Array;
  /** Of the two, -1 to 1. */
  correlation: number;
  /** Share of the region's weight that lies in the frame. */
  inside: number;
}

/** Less of a region than this in the frame is nothing to compare. */
const MIN_INSIDE = 0.15;

/** Compares what is found under a pose with the region; null where that is even, or out of the frame. */
export function compared(level: Level, picture: Gray, k: number, part: GrayPart, pose: Pose): Comparison | null {
  const { u, v } = level;
  const cell = 2 ** k;
  const found = new Float32Array(u.length);
  let { value, weight } = level;
  const [c, s] = [Math.cos(pose.rotation) * pose.scale, Math.sin(pose.rotation) * pose.scale];
  for (let i = 0; i < u.length; i++) {
    const x = pose.x + u[i]! * c - v[i]! * s;
    const y = pose.y + u[i]! * s + v[i]! * c;
    found[i] = sample(picture, (x - part.left) / cell, (y - part.top) / cell);
    if (x >= 0 && y >= 0 && x <= part.frame.width - 1 && y <= part.frame.height - 1) continue;
    if (weight === level.weight) weight = weight.slice();
    weight[i] = 0;
  }
  let inside = 1;
  if (weight !== level.weight) {
    const sum = (weights: Float32Array) => weights.reduce((all, one) => all + one, 0);
    inside = sum(weight) / sum(level.weight);
    if (inside < MIN_INSIDE) return null;
    value = value.slice();
    if (!normalise(value, weight)) return null;
  }
  if (!normalise(found, weight)) return null;
  let [sum, along] = [0, 0];
  for (let i = 0; i < u.length; i++) {
    sum += weight[i]!;
    along += weight[i]! * found[i]! * value[i]!;
  }
  return { found, value, weight, correlation: along / sum, inside };
}

/** A place is told apart from those so far from it, px: what is further off must not be called sure. */
export const TOLD_APART = 2;
/** Correlation falls over that way by so many times what noise alone makes it vary. */
const SURE = 5;
/** Noise there is at least, as a share of the region's own variance: pictures are never alike to more. */
const MIN_NOISE = 2e-4;
/** Samples nearer to one another than this say the same, px: the pyramid's blur. */
const INDEPENDENT = 3;
/** A region of which less than this is in the frame is surer of nothing than by its share. */
const ENOUGH_INSIDE = 0.5;

/**
 * How sure a place is: its correlation; less where the frame holds little of the region; and less where moving it along
 * the way it has the least texture, the Hessian's smallest eigenvalue, changes no more than noise does.
 */
export function confidenceOf(level: Level, picture: Gray, part: GrayPart, pose: Pose): number {
  const here = compared(level, picture, 0, part, pose);
  if (!here || here.correlation <= 0) return 0;
  const [[a, b], [, d]] = hessianOf(level.descents.slice(0, 2), here.weight) as [[number, number], [number, number]];
  // The eigenvector of the smaller eigenvalue lies across that of the larger.
  const across = 0.5 * Math.atan2(2 * b, a - d) + Math.PI / 2 + pose.rotation;
  const beside = [TOLD_APART, -TOLD_APART].map((way) => {
    const moved = { ...pose, x: pose.x + way * Math.cos(across), y: pose.y + way * Math.sin(across) };
    return compared(level, picture, 0, part, moved)?.correlation ?? 0;
  });
  const falls = here.correlation - Math.max(...beside);
  const noise = Math.max(MIN_NOISE, 1 - here.correlation);
  let [sum, squares] = [0, 0];
  for (const weight of here.weight) [sum, squares] = [sum + weight, squares + weight * weight];
  const samples = (sum * sum) / squares / Math.max(1, INDEPENDENT / level.step) ** 2;
  const apart = Math.min(1, Math.max(0, falls) / ((SURE * noise) / Math.sqrt(samples)));
  return here.correlation * apart * Math.min(1, here.inside / ENOUGH_INSIDE);
}
