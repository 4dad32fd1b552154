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
  key?: { table: number };
  surround: "extend" | "black";
}

const optional = (buffer: number | null) => (buffer === null ? 0 : { buffer });
const radiusOf = (taps: number[]) => (taps[3] || taps[4] ? 4 : 2);
const padded = (taps: number[]) => Array.from({ length: 5 }, (_, i) => taps[i] ?? 0);

/** Emits the operations of a spread of `input` added to `input`; returns the result's buffer. */
export function planSpread(builder: PlanBuilder, input: number, plan: SpreadPlan): number {
  const { levels: bank, broad } = plan.fit.bank;
  const black = plan.surround === "black" ? 1 : 0;
  const key = plan.key ?? 0;
  const needed = plan.weights.map((weight) => weight.some((w) => w !== 0));
  const isBroad = needed.lastIndexOf(true) >= 2 * bank.length;
  const top = isBroad ? bank.length : Math.ceil((needed.lastIndexOf(true) + 1) / 2);
  const blur = (source: number, x: number[], y: number[], takes: { table: number } | 0) => {
    const { width, height, edgeX, edgeY } = builder.size(source);
    const out = builder.level(source);
    const taps = builder.floats([...padded(x), ...padded(y)]);
    return builder.add(
      "blur",
      [{ buffer: source }, { buffer: out }, width, height, edgeX, edgeY, radiusOf(x), radiusOf(y), taps, black, takes],
      out,
    );
  };
  // Up: reduce to each level, blur there.
  const planes: { narrow: number | null; wide: number | null; width: number; height: number; level: number }[] = [];
  let level = input;
  let levelKey: { table: number } | 0 = key;
  for (let k = 0; k < top; k++) {
    const { x, y } = bank[k]!;
    if (k > 0) {
      const before = bank[k - 1]!;
      const halves = [x.level > before.x.level, y.level > before.y.level] as const;
      const from = builder.size(level);
      const out = builder.level(level, halves[0], halves[1]);
      const args = [
        { buffer: level },
        { buffer: out },
        from.width,
        from.height,
        from.edgeX,
        from.edgeY,
        Number(halves[0]),
        Number(halves[1]),
        black,
        levelKey,
      ];
      level = builder.add("reduce", args, out);
      levelKey = 0;
    }
    const { width, height } = builder.size(level);
    const isNarrow = needed[2 * k];
    const isWide = needed[2 * k + 1];
    const narrow = isNarrow || isWide ? blur(level, x.narrow, y.narrow, levelKey) : null;
    const wide = isWide ? blur(narrow!, x.wide, y.wide, 0) : null;
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
        builder.floats(cellMatrix(count, edge, along, black === 1));
      across = builder.add(
        "mixCells",
        [
          { buffer: level },
          optional(across),
          { buffer: out },
          width,
          height,
          matrix(width, edgeX, variance.x),
          matrix(height, edgeY, variance.y),
          builder.floats([...plan.weights[m]!, 0]),
        ],
        out,
      );
    });
  // Down: expand and add each level's members; the last laying is onto the picture itself.
  let coarse: number | null = null;
  for (let k = top - 1; k >= 0; k--) {
    const { narrow, wide, width, height, level: plane } = planes[k]!;
    const last = k === 0;
    const none: Colour = [0, 0, 0];
    const rows = [[1, 1, 1], plan.weights[2 * k] ?? none, plan.weights[2 * k + 1] ?? none, [1, 1, 1], plan.under];
    const out: number = builder.level(plane);
    const next: { x: Direction; y: Direction } | undefined = bank[k + 1];
    const below = coarse === null ? { width: 0, height: 0, edgeX: 0, edgeY: 0 } : builder.size(coarse);
    coarse = builder.add(
      "gather",
      [
        optional(coarse),
        below.width,
        below.height,
        below.edgeX,
        below.edgeY,
        optional(narrow),
        optional(wide),
        optional(k === bank.length - 1 ? across : null),
        last ? { buffer: input } : 0,
        { buffer: out },
        width,
        height,
        Number(next !== undefined && next.x.level > bank[k]!.x.level),
        Number(next !== undefined && next.y.level > bank[k]!.y.level),
        builder.floats(rows.flatMap((row) => [...row, 0])),
      ],
      out,
    );
  }
  return coarse ?? input;
}
