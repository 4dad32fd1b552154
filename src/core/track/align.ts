import { compared, confidenceOf, TOLD_APART } from "./compare";
import { type Gray, type GrayPart } from "./gray";
import { hessianOf, inverted, type Level, type Pose, pyramidOf, type Template } from "./template";
import type { TrackModel } from "./track";

/**
 * Alignment of a region with where it has gone: inverse-compositional Gauss-Newton (Baker and Matthews, "Lucas-Kanade
 * 20 Years On", 2004) down a pyramid, on intensities of zero mean and unit spread, so that light may change.
 */

const MAX_STEPS = 24;
/** A step this small ends the search, px of the level. */
const SETTLED = 0.004;

/** Undoes a small change of the region after a pose: W(p) o W(dp)^-1. */
function composed(pose: Pose, du: number, dv: number, growth: number, turn: number): Pose {
  const scale = pose.scale / (1 + growth);
  const rotation = pose.rotation - turn;
  const [c, s] = [Math.cos(rotation) * scale, Math.sin(rotation) * scale];
  return { x: pose.x - (du * c - dv * s), y: pose.y - (du * s + dv * c), scale, rotation };
}

/** Looked at about the start on the coarsest level, cells: for the region itself, and for what looks like it. */
const SEARCH = 4;
const SEARCH_ALIKE = 8;
/** A place that fits this much worse than the best, on the coarsest level, may still be as good on the finest. */
const NEARLY = 0.1;
const MAX_ALIKE = 6;

/**
 * The best place near a pose on the coarsest level, by correlation alone: larger leaps than a step finds. And the
 * others that come near it, in a wider round: a region that repeats may be at any of them.
 */
function searched(level: Level, picture: Gray, k: number, part: GrayPart, pose: Pose): { best: Pose; alike: Pose[] } {
  const side = 2 * SEARCH_ALIKE + 1;
  const at = (i: number, j: number) => ({ ...pose, x: pose.x + i * 2 ** k, y: pose.y + j * 2 ** k });
  const fits = Float64Array.from({ length: side * side }, (_, n) => {
    const pose = at((n % side) - SEARCH_ALIKE, Math.floor(n / side) - SEARCH_ALIKE);
    return compared(level, picture, k, part, pose)?.correlation ?? -1;
  });
  const fit = (i: number, j: number) =>
    Math.max(Math.abs(i), Math.abs(j)) > SEARCH_ALIKE ? -1 : fits[(j + SEARCH_ALIKE) * side + i + SEARCH_ALIKE]!;
  const peaks: { pose: Pose; fit: number }[] = [];
  let [best, most] = [pose, -Infinity];
  for (let j = -SEARCH_ALIKE; j <= SEARCH_ALIKE; j++)
    for (let i = -SEARCH_ALIKE; i <= SEARCH_ALIKE; i++) {
      const own = fit(i, j);
      if (Math.max(Math.abs(i), Math.abs(j)) <= SEARCH && own > most) [best, most] = [at(i, j), own];
      const isPeak = [-1, 0, 1].every((y) => [-1, 0, 1].every((x) => fit(i + x, j + y) <= own));
      if (isPeak && own > 0) peaks.push({ pose: at(i, j), fit: own });
    }
  const alike = peaks
    .filter((peak) => peak.fit > most - NEARLY && Math.hypot(peak.pose.x - best.x, peak.pose.y - best.y) > 2 ** k)
    .sort((one, other) => other.fit - one.fit)
    .slice(0, MAX_ALIKE)
    .map(({ pose: place }) => place);
  return { best, alike };
}

/** Gauss and Newton's steps on one level. */
function refined(level: Level, picture: Gray, k: number, part: GrayPart, start: Pose, model: TrackModel): Pose {
  let pose = start;
  for (let step = 0; step < MAX_STEPS; step++) {
    const now = compared(level, picture, k, part, pose);
    if (!now) break;
    const inverse = now.weight === level.weight ? level.inverse : inverted(hessianOf(level.descents, now.weight));
    if (!inverse) break;
    const slopes = level.descents.map((descent) => {
      let sum = 0;
      for (let i = 0; i < descent.length; i++) sum += now.weight[i]! * descent[i]! * (now.found[i]! - now.value[i]!);
      return sum;
    });
    const [du, dv, growth = 0, turn = 0] = inverse.map((row) =>
      row.reduce((sum, value, i) => sum + value * slopes[i]!, 0),
    ) as [number, number, number?, number?];
    pose = composed(pose, du, dv, model === "similarity" ? growth : 0, model === "similarity" ? turn : 0);
    if (Math.hypot(du, dv) < SETTLED * 2 ** k && Math.abs(growth) < 1e-5 && Math.abs(turn) < 1e-5) break;
  }
  return pose;
}

/**
 * Two places whose correlations differ by less than this are one as good as the other, and which it is nobody knows.
 */
const ALIKE = 0.02;
/** Confidence in a place that is one of several. */
const ONE_OF_SEVERAL = 0.45;

/** Finds a region in a part of another frame, from where it is thought to be; with how sure that is, 0 to 1. */
export function align({ model, levels }: Template, part: GrayPart, start: Pose): { pose: Pose; confidence: number } {
  const finest = levels[0];
  if (!finest) return { pose: start, confidence: 0 };
  const pictures = pyramidOf(part, levels.length);
  const coarsest = levels.length - 1;
  const top = levels[coarsest];
  const { best, alike } = top ? searched(top, pictures[coarsest]!, coarsest, part, start) : { best: start, alike: [] };
  const down = (from: Pose) => {
    let pose = from;
    for (let k = coarsest; k >= 0; k--) {
      const level = levels[k];
      if (level) pose = refined(level, pictures[k]!, k, part, pose, model);
    }
    return pose;
  };
  const fitOf = (pose: Pose) => compared(finest, pictures[0]!, 0, part, pose)?.correlation ?? -1;
  const pose = down(best);
  const fit = fitOf(pose);
  const isOneOfSeveral = alike.some((other) => {
    const there = down(other);
    return Math.hypot(there.x - pose.x, there.y - pose.y) > TOLD_APART && fitOf(there) > fit - ALIKE;
  });
  const confidence = confidenceOf(finest, pictures[0]!, part, pose);
  return { pose, confidence: isOneOfSeveral ? Math.min(ONE_OF_SEVERAL, confidence) : confidence };
}
