import type { PlanBuilder } from "../engine/plan";
import { blurTaps } from "./bank";
import { planDouble, planHalve, planLay } from "./gaussian";
import type { Colour } from "./plan";

/** A line of light through every source, at any angle. */
export interface Line {
  /** Degrees from the horizontal, clockwise. */
  angle: number;
  /** Only from the source onward, or both ways. */
  oneWay: boolean;
}

export interface Lines {
  lines: Line[];
  /** e-folding length, px along the line. */
  length: Colour;
  /** Standard deviation across the line, px. */
  thickness: number;
  /** Weight of each line's light. */
  weight: Colour;
  /** Record of the highlight key; without it all light makes lines. */
  key?: { table: number };
}

/** Lines are drawn at a quarter of the size. */
const HALVINGS = 2;

/** Emits the light of lines, at a quarter of the size. */
function planLine(builder: PlanBuilder, source: number, { angle, oneWay }: Line, length: Colour, weight: Colour, sum: number | null): number {
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
  builder.add("skew", [{ buffer: source }, width, height, { buffer: skewed }, along, slope, up, Number(transpose)], skewed, rows, along);
  const perStep = 1 / Math.hypot(1, slope); // px along the row for one along the line
  const decay = [...length.map((px) => Math.exp(-1 / Math.max(px * perStep, 1e-3))), 0];
  const smeared = builder.buffer(along, rows);
  if (oneWay) builder.add("trailRows", [{ buffer: skewed }, { buffer: smeared }, along, builder.floats(decay), Number((transpose ? s : c) < 0)], smeared);
  else builder.add("smearRows", [{ buffer: skewed }, { buffer: smeared }, along, rows, builder.floats(decay), 0, 1], smeared);
  const out = builder.level(source);
  const args = [{ buffer: smeared }, along, rows, sum === null ? 0 : { buffer: sum }, { buffer: out }, width, slope, up, Number(transpose), builder.floats([...weight, 0])];
  return builder.add("unskew", args, out);
}

/** Emits lines of light laid over `input`; returns the result's buffer. */
export function planLines(builder: PlanBuilder, input: number, { lines, length, thickness, weight, key }: Lines): number {
  const half = planHalve(builder, input, key ?? 0, 1);
  const quarter = planHalve(builder, half, 0, 1);
  const cell = 2 ** HALVINGS;
  let source = quarter;
  const variance = (thickness / cell) ** 2 - 0.78;
  if (variance > 0.05) {
    const { width, height, edgeX, edgeY } = builder.size(source);
    const out = builder.level(source);
    const taps = blurTaps(Math.min(variance, 3));
    source = builder.add("blur", [{ buffer: source }, { buffer: out }, width, height, edgeX, edgeY, 4, 4, builder.floats([...taps, ...taps]), 1, 0], out);
  }
  let sum: number | null = null;
  for (const line of lines) sum = planLine(builder, source, line, length.map((px) => px / cell) as unknown as Colour, weight, sum);
  if (sum === null) return input;
  return planLay(builder, input, planDouble(builder, sum, half), [1, 1, 1]);
}
