import type { TableRef } from "../engine/kernels";
import { planBlur } from "../engine/operations";
import type { PlanBuilder } from "../engine/plan";
import { blurTaps } from "./bank";
import { addProgram, sumOperation } from "../engine/pointwise";
import { MAX_VARIANCE, planDouble, planHalve, planLay } from "./gaussian";
import type { Colour } from "./plan";

/** A line of light through every source, at any angle. */
export interface Line {
  /** Degrees from the horizontal, clockwise. */
  angle: number;
  /** Only from the source onward, or both ways. */
  oneWay: boolean;
}

/** Light that falls off exponentially along a line. */
export interface Strand {
  /** e-folding length, px along the line. */
  length: Colour;
  /** Share of the light it takes from each source. */
  weight: Colour;
}

export interface Lines {
  lines: Line[];
  /** What every line is made of. */
  strands: Strand[];
  /** Standard deviation across the line, px. */
  thickness: number;
  /** Record of the highlight key; without it all light makes lines. */
  key?: TableRef;
}

/** Lines are drawn at a quarter of the size, thin ones at half of it or at all of it. */
const MAX_HALVINGS = 2;
/** Standard deviation across a line, in cells, that halving and skewing make by themselves. */
const OWN_THICKNESS = 0.88;

/** Emits the light of a line's strands, added to what `sum` holds. */
function planLine(
  builder: PlanBuilder,
  source: number,
  { angle, oneWay }: Line,
  strands: Strand[],
  cell: number,
  sum: number | null,
): number | null {
  const { width, height } = builder.size(source);
  const turn = (angle * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const transpose = Math.abs(s) > Math.abs(c);
  const slope = transpose ? c / s : s / c;
  const along = transpose ? height : width;
  const rise = slope * (along - 1);
  // Rows of the skewed frame: j = y + shift - slope x, which runs over the frame's height and the line's whole rise.
  const up = Math.max(0, rise);
  const rows = (transpose ? width : height) + Math.ceil(Math.abs(rise)) + 2;
  const skewed = builder.buffer(along, rows);
  const way = { slope, shift: up, transpose };
  builder.add("skew", { source, width, height, out: skewed, outWidth: along, ...way });
  const perStep = 1 / Math.hypot(1, slope); // px along the row for one along the line
  let lit = sum;
  for (const { length, weight } of strands) {
    const decay = builder.floats([...length.map((px) => Math.exp(-1 / Math.max((px / cell) * perStep, 1e-3))), 0]);
    const smeared = builder.buffer(along, rows);
    const trail = { source: skewed, out: smeared, width: along, decay };
    if (oneWay) builder.add("trailRows", { ...trail, backward: (transpose ? s : c) < 0 });
    else builder.add("smearRows", { ...trail, height: rows, lead: 0, black: true });
    lit = builder.add("unskew", {
      skewed: smeared,
      skewedWidth: along,
      skewedHeight: rows,
      sum: lit,
      out: builder.level(source),
      width,
      ...way,
      weight: builder.floats([...weight, 0]),
    });
  }
  return lit;
}

/** Emits lines of light laid over `input`; returns the result's buffer. */
export function planLines(builder: PlanBuilder, input: number, { lines, strands, thickness, key }: Lines): number {
  const halvings = Math.min(MAX_HALVINGS, Math.max(0, Math.floor(Math.log2(thickness / OWN_THICKNESS))));
  const levels = [input];
  for (let k = 0; k < halvings; k++) levels.push(planHalve(builder, levels[k]!, { key: k ? null : key, black: true }));
  const cell = 2 ** halvings;
  let source = levels[halvings]!;
  const variance = (thickness / cell) ** 2 - (halvings ? OWN_THICKNESS ** 2 : 0);
  if (variance > 0.05 || (!halvings && key)) {
    const passes = Math.max(1, Math.ceil(variance / MAX_VARIANCE));
    const taps = blurTaps(Math.max(0.02, variance / passes));
    for (let i = 0; i < passes; i++) {
      const taken = halvings || i ? null : key;
      source = planBlur(builder, source, { x: taps, y: taps }, { black: true, key: taken }, { x: 4, y: 4 });
    }
  }
  let sum: number | null = null;
  for (const line of lines) sum = planLine(builder, source, line, strands, cell, sum);
  if (sum === null) return input;
  if (!halvings) return addProgram(builder, input, builder.buffer(), [sumOperation], sum);
  for (let k = halvings - 1; k > 0; k--) sum = planDouble(builder, sum, levels[k]!);
  return planLay(builder, input, sum, [1, 1, 1]);
}
