import type { PlanBuilder } from "../engine/plan";
import { blurTaps } from "./bank";

/** Standard deviation, in cells, that is left at the level a wide blur is done on. */
const CELLS = 1.3;
/** Variance a pass of nine taps holds, cells². */
const MOST_VARIANCE = 3;
/** Variance halving to a level and doubling back take by themselves, in the level's cells². */
const own = (level: number) => (5 / 6) * (1 - 4 ** -level);

const levelFor = (sigma: number) => Math.max(0, Math.floor(Math.log2(Math.max(sigma, 1e-3) / CELLS)));

/** Emits a Gaussian blur of standard deviations in px, done at the level where it is a small one. `key`: the record of a highlight key. */
export function planGaussian(
  builder: PlanBuilder,
  input: number,
  sigmaX: number,
  sigmaY: number,
  key: { table: number } | 0 = 0,
  black = 0,
): number {
  const level = Math.min(levelFor(sigmaX), levelFor(sigmaY));
  const levels = [input];
  for (let k = 0; k < level; k++) {
    const from = builder.size(levels[k]!);
    const out = builder.level(levels[k]!, true, true);
    levels.push(
      builder.add(
        "reduce",
        [
          { buffer: levels[k]! },
          { buffer: out },
          from.width,
          from.height,
          from.edgeX,
          from.edgeY,
          1,
          1,
          black,
          k ? 0 : key,
        ],
        out,
      ),
    );
  }
  let image = levels[level]!;
  const variances = [sigmaX, sigmaY].map((sigma) => Math.max(0.02, sigma ** 2 / 4 ** level - own(level)));
  const passes = Math.max(1, Math.ceil(Math.max(...variances) / MOST_VARIANCE));
  const [x, y] = variances.map((variance) => blurTaps(variance / passes)) as [number[], number[]];
  for (let i = 0; i < passes; i++) {
    const { width, height, edgeX, edgeY } = builder.size(image);
    const out = builder.level(image);
    image = builder.add(
      "blur",
      [
        { buffer: image },
        { buffer: out },
        width,
        height,
        edgeX,
        edgeY,
        4,
        4,
        builder.floats([...x, ...y]),
        black,
        level || i ? 0 : key,
      ],
      out,
    );
  }
  for (let k = level - 1; k >= 0; k--) image = planDouble(builder, image, levels[k]!);
  return image;
}

/** Emits the way back from a level to one of twice its size, like the buffer `like`. */
export const planDouble = (builder: PlanBuilder, coarse: number, like: number): number =>
  planGather(builder, coarse, like, 0);

/** Emits fine + coarse, alpha and all, where `coarse` stands at half the size. */
export const planSum = (builder: PlanBuilder, fine: number, coarse: number): number =>
  planGather(builder, coarse, fine, { buffer: fine });

function planGather(builder: PlanBuilder, coarse: number, like: number, plane: { buffer: number } | 0): number {
  const below = builder.size(coarse);
  const out = builder.level(like);
  const { width, height } = builder.size(out);
  const weights = builder.floats([1, 1, 1, 1, 1, 1, 1, 1, ...new Array<number>(12).fill(0)]);
  return builder.add(
    "gather",
    [
      { buffer: coarse },
      below.width,
      below.height,
      below.edgeX,
      below.edgeY,
      plane,
      0,
      0,
      0,
      { buffer: out },
      width,
      height,
      1,
      1,
      weights,
    ],
    out,
  );
}

/** Emits the way down to half the size; `key`: the record of a highlight key. */
export function planHalve(builder: PlanBuilder, input: number, key: { table: number } | 0 = 0, black = 0): number {
  const from = builder.size(input);
  const out = builder.level(input, true, true);
  return builder.add(
    "reduce",
    [{ buffer: input }, { buffer: out }, from.width, from.height, from.edgeX, from.edgeY, 1, 1, black, key],
    out,
  );
}

/** Emits input + sum of weight * plane, where `coarse` stands at half the size. */
export function planLay(
  builder: PlanBuilder,
  input: number,
  coarse: number,
  weight: readonly [number, number, number],
): number {
  const below = builder.size(coarse);
  const out = builder.level(input);
  const { width, height } = builder.size(out);
  const weights = builder.floats([...weight, 0, ...new Array<number>(12).fill(0), 1, 1, 1, 1]);
  return builder.add(
    "gather",
    [
      { buffer: coarse },
      below.width,
      below.height,
      below.edgeX,
      below.edgeY,
      0,
      0,
      0,
      { buffer: input },
      { buffer: out },
      width,
      height,
      1,
      1,
      weights,
    ],
    out,
  );
}
