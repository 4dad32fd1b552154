import { type Around, planBlur, planGather, planReduce } from "../engine/operations";
import type { PlanBuilder } from "../engine/plan";
import { blurTaps } from "./bank";

/** Standard deviation, in cells, that is left at the level a wide blur is done on. */
const CELLS = 1.3;
/** Variance a pass of nine taps holds, cells². */
export const MAX_VARIANCE = 3;
/** Variance halving to a level and doubling back take by themselves, in the level's cells². */
const own = (level: number) => (5 / 6) * (1 - 4 ** -level);

const levelFor = (sigma: number) => Math.max(0, Math.floor(Math.log2(Math.max(sigma, 1e-3) / CELLS)));

/**
 * Emits a Gaussian blur of standard deviations in px, done at the level where it is a small one. `key`: the record of a
 * highlight key.
 */
export function planGaussian(
  builder: PlanBuilder,
  input: number,
  sigmaX: number,
  sigmaY: number,
  { key = null, black = false }: Around = {},
): number {
  // Each direction is halved as often as its own width asks.
  const [levelX, levelY] = [levelFor(sigmaX), levelFor(sigmaY)];
  const top = Math.max(levelX, levelY);
  const levels = [input];
  for (let k = 0; k < top; k++)
    levels.push(planReduce(builder, levels[k]!, { x: k < levelX, y: k < levelY }, { black, key: k ? null : key }));
  let image = levels[top]!;
  const left = (sigma: number, level: number) => Math.max(0.02, sigma ** 2 / 4 ** level - own(level));
  const variances = [left(sigmaX, levelX), left(sigmaY, levelY)];
  const passes = Math.max(1, Math.ceil(Math.max(...variances) / MAX_VARIANCE));
  const [x, y] = variances.map((variance) => blurTaps(variance / passes)) as [number[], number[]];
  for (let i = 0; i < passes; i++)
    image = planBlur(builder, image, { x, y }, { black, key: top || i ? null : key }, { x: 4, y: 4 });
  for (let k = top - 1; k >= 0; k--)
    image = planGather(builder, {
      like: levels[k]!,
      coarse: { buffer: image, doubleX: k < levelX, doubleY: k < levelY, weight: ONE },
    });
  return image;
}

const ONE = [1, 1, 1, 1];
const doubled = (buffer: number, weight: readonly number[] = ONE) => ({ buffer, doubleX: true, doubleY: true, weight });

/** Emits the way back from a level to one of twice its size, like the buffer `like`. */
export const planDouble = (builder: PlanBuilder, coarse: number, like: number): number =>
  planGather(builder, { like, coarse: doubled(coarse) });

/** Emits fine + coarse, alpha and all, where `coarse` stands at half the size. */
export const planSum = (builder: PlanBuilder, fine: number, coarse: number): number =>
  planGather(builder, { like: fine, coarse: doubled(coarse), planes: [{ buffer: fine, weight: ONE }] });

/** Emits the way down to half the size. */
export const planHalve = (builder: PlanBuilder, input: number, around: Around = {}): number =>
  planReduce(builder, input, { x: true, y: true }, around);

/** Emits input + sum of weight * plane, where `coarse` stands at half the size. */
export const planLay = (
  builder: PlanBuilder,
  input: number,
  coarse: number,
  weight: readonly [number, number, number],
): number =>
  planGather(builder, { like: input, coarse: doubled(coarse, weight), under: { buffer: input, weight: ONE } });
