import type { TableRef } from "../engine/kernels";
import { planBlur, planGather, planReduce } from "../engine/operations";
import type { PlanBuilder } from "../engine/plan";
import type { Direction } from "./bank";
import { cellMatrix } from "./cells";
import type { SpreadFit } from "./fit";

export type Colour = readonly [number, number, number];

export interface SpreadPlan {
  fit: Pick<SpreadFit, "bank">;
  /** Weight of each member in R, G and B. */
  weights: Colour[];
  /** Weight of the picture the spread is added to. */
  under: Colour;
  /** Record of the highlight key (core/elements/key.ts); without it all light is spread. */
  key?: TableRef;
  surround: "extend" | "black";
}

/** Emits the operations of a spread of `input` added to `input`; returns the result's buffer. */
export function planSpread(builder: PlanBuilder, input: number, plan: SpreadPlan): number {
  const { levels: bank, broad } = plan.fit.bank;
  const black = plan.surround === "black";
  const key = plan.key ?? null;
  const needed = plan.weights.map((weight) => weight.some((w) => w !== 0));
  const isBroad = needed.lastIndexOf(true) >= 2 * bank.length;
  const top = isBroad ? bank.length : Math.ceil((needed.lastIndexOf(true) + 1) / 2);
  // Up: reduce to each level, blur there.
  const planes: { narrow: number | null; wide: number | null; width: number; height: number; level: number }[] = [];
  let level = input;
  let levelKey = key;
  for (let k = 0; k < top; k++) {
    const { x, y } = bank[k]!;
    if (k > 0) {
      const before = bank[k - 1]!;
      const halves = { x: x.level > before.x.level, y: y.level > before.y.level };
      level = planReduce(builder, level, halves, { black, key: levelKey });
      levelKey = null;
    }
    const { width, height } = builder.size(level);
    const isNarrow = needed[2 * k];
    const isWide = needed[2 * k + 1];
    const narrow =
      isNarrow || isWide ? planBlur(builder, level, { x: x.narrow, y: y.narrow }, { black, key: levelKey }) : null;
    const wide = isWide ? planBlur(builder, narrow!, { x: x.wide, y: y.wide }, { black }) : null;
    planes.push({ narrow: isNarrow ? narrow : null, wide, width, height, level });
  }
  // Across: what is wider than the last level's blurs.
  let across: number | null = null;
  if (isBroad)
    broad.forEach((variance, b) => {
      const m = 2 * bank.length + b;
      if (!needed[m]) return;
      const { width, height, edgeX, edgeY } = builder.size(level);
      const out = builder.level(level);
      const matrix = (count: number, edge: number, along: number) =>
        builder.floats(cellMatrix(count, edge, along, black));
      across = builder.add("mixCells", {
        source: level,
        sum: across,
        out,
        width,
        height,
        columns: matrix(width, edgeX, variance.x),
        rows: matrix(height, edgeY, variance.y),
        weight: builder.floats([...plan.weights[m]!, 0]),
      });
    });
  // Down: expand and add each level's members; the last laying is onto the picture itself.
  let coarse: number | null = null;
  for (let k = top - 1; k >= 0; k--) {
    const { narrow, wide, level: plane } = planes[k]!;
    const none: Colour = [0, 0, 0];
    const one: Colour = [1, 1, 1];
    const next: { x: Direction; y: Direction } | undefined = bank[k + 1];
    const doubleX = next !== undefined && next.x.level > bank[k]!.x.level;
    const doubleY = next !== undefined && next.y.level > bank[k]!.y.level;
    coarse = planGather(builder, {
      like: plane,
      coarse: coarse === null ? null : { buffer: coarse, doubleX, doubleY, weight: one },
      planes: [
        { buffer: narrow, weight: plan.weights[2 * k] ?? none },
        { buffer: wide, weight: plan.weights[2 * k + 1] ?? none },
        { buffer: k === bank.length - 1 ? across : null, weight: one },
      ],
      under: { buffer: k === 0 ? input : null, weight: plan.under },
    });
  }
  return coarse ?? input;
}
