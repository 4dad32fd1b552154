import { memoised, NOTHING } from "../maths/memoise";
import { nonNegativeLeastSquares } from "../maths/non-negative";
import { to24Bits } from "../maths/precision";
import { type Bank, bankOf, members, type Member } from "./bank";

/** Distances below this (px) belong to the unscattered light. */
const FIT_FROM = 1.5;
const FIT_SAMPLES = 48;
/** What is further below the brightest fitted sample than this (as a power of ten) does not count. */
const FIT_DECADES = 6.5;
/** A fit within this (log10) without full-size members is taken; the bar is 0.05. */
const GOOD_ENOUGH = 0.03;
/** Members at full size that a fit does without, if it can. */
const LEFT_OUT: readonly (readonly number[])[] = [[0, 1], [1], []];
/** Directions a profile is fitted along: fitting each, and not their mean, is what keeps the spread round. */
const DIRECTIONS = [0, Math.PI / 8, Math.PI / 4, (3 * Math.PI) / 8, Math.PI / 2];

/** A spread made from the bank: weights of the members, and of the light that stays where it is. They sum to 1. */
export interface SpreadFit {
  bank: Bank;
  members: Member[];
  weights: number[];
  stay: number;
  /** The largest distance of the fitted from the wanted profile, log10, over the range fitted. */
  error: number;
}

/**
 * A member's profile at a distance (px along y) in a direction, on a plane where pixels are `stretch` times as wide.
 */
const radial = (member: Member, r: number, angle: number, stretch: number) =>
  member.at((r * to24Bits(Math.cos(angle))) / stretch, r * to24Bits(Math.sin(angle)));

/** Levels of the pyramid: the last has some twenty rows of cells. */
const levelsFor = (height: number) => Math.max(3, Math.round(Math.log2(height)) - 3);

const banks = memoised<{ bank: Bank; members: Member[] }>(16);

function bankFor(height: number, stretch: number) {
  return banks(NOTHING, `${height} ${stretch.toFixed(4)}`, () => {
    const bank = bankOf(levelsFor(height), height, stretch);
    return { bank, members: members(bank) };
  });
}

/**
 * Fits a profile of light per unit area (per px along y squared, any scale) against distance (px along y). The profile
 * is brought to unit sum over the plane; its part within FIT_FROM that members do not carry stays in place.
 */
export function fitSpread(profile: (r: number) => number, height: number, stretch: number, reach: number): SpreadFit {
  const { bank, members: all } = bankFor(height, stretch);
  const total = integrate(profile, reach);
  const radii = Array.from({ length: FIT_SAMPLES }, (_, i) =>
    to24Bits(FIT_FROM * (Math.max(reach, 8) / FIT_FROM) ** (i / (FIT_SAMPLES - 1))),
  );
  const distances = DIRECTIONS.flatMap(() => radii);
  const angles = DIRECTIONS.flatMap((angle) => radii.map(() => angle));
  // Pixels are `stretch` wide, so the sum over pixels of a unit-sum kernel is 1 / stretch of its integral on the plane.
  const wanted = distances.map((r) => to24Bits((profile(r) / total) * stretch));
  const brightest = Math.max(...wanted);
  const used = distances.flatMap((_, i) => (wanted[i]! > brightest * 10 ** -FIT_DECADES ? [i] : []));
  const responses = all.map((member) => used.map((i) => radial(member, distances[i]!, angles[i]!, stretch)));
  const columns = responses.map((row) => row.map((value, k) => value / wanted[used[k]!]!));
  const errorOf = (weights: number[]) =>
    Math.max(
      ...used.map((i, k) => {
        if (wanted[i]! <= brightest * 1e-5 || distances[i]! >= height / 2) return 0;
        const made = weights.reduce((s, weight, m) => s + weight * responses[m]![k]!, 0);
        return Math.abs(Math.log10(Math.max(made, 1e-300) / wanted[i]!));
      }),
    );
  // Blurs at full size are the dearest; where the others do as well, both are left out, or the second.
  for (const left of LEFT_OUT) {
    const tried = columns.flatMap((_, m) => (left.includes(m) ? [] : [m]));
    const fitted = nonNegativeLeastSquares(
      tried.map((m) => columns[m]!),
      columns[0]!.map(() => 1),
    );
    const shape = columns.map((_, m) => (left.includes(m) ? 0 : fitted[tried.indexOf(m)]!));
    const sum = shape.reduce((a, b) => a + b, 0);
    const error = errorOf(shape);
    // Members that reach past `reach` hold more than 1: what lies there is part of the profile's sum.
    if (!left.length || error < GOOD_ENOUGH)
      return {
        bank,
        members: all,
        weights: shape.map((weight) => weight / Math.max(1, sum)),
        stay: Math.max(0, 1 - sum),
        error,
      };
  }
  throw new Error("unreachable");
}

/**
 * Weights of a Gaussian of unit sum and a standard deviation (px along y): the two members around it, mixed to its
 * variance. A narrower one than the bank has is the narrowest, a wider one the widest.
 */
export function gaussianWeights(members: readonly Member[], sigma: number): number[] {
  const above = members.findIndex((member) => member.sigma >= sigma);
  if (above <= 0) return members.map((_, m) => Number(m === (above === 0 ? 0 : members.length - 1)));
  const [low, high] = [members[above - 1]!.sigma ** 2, members[above]!.sigma ** 2];
  const share = (sigma ** 2 - low) / (high - low);
  return members.map((_, m) => (m === above ? share : m === above - 1 ? 1 - share : 0));
}

/**
 * The integral of a radial profile over the plane out to `reach`, by the trapezium rule on the logarithm of distance.
 */
function integrate(profile: (r: number) => number, reach: number): number {
  const steps = 600;
  const from = 1e-3;
  let sum = Math.PI * from * from * profile(from);
  let before = profile(from) * from * from;
  const ratio = Math.log(reach / from) / steps;
  for (let i = 1; i <= steps; i++) {
    const r = from * Math.exp(ratio * i);
    const here = profile(r) * r * r;
    sum += Math.PI * (before + here) * ratio;
    before = here;
  }
  return sum;
}
