import { blurTaps } from "../../spread/bank";
import { MAX_VARIANCE } from "../../spread/gaussian";
import { planLines } from "../../spread/lines";
import type { Colour } from "../../spread/plan";
import { planBlur, planGather, planReduce } from "../../engine/operations";
import type { PlanBuilder } from "../../engine/plan";
import { STREAK_TAIL_RATIO } from "../../profile/lens";
import { keyOf, keyRecord } from "../key";
import type { FrameContext } from "../../frame/context";
import { type Streak } from "./parameters";

/** Rows are smeared at a quarter of the width: two halvings. */
const HALVINGS = 2;

/** Run-in of the smear outside the frame, in e-folding lengths. */
const LEAD_LENGTHS = 6;

function smear(builder: PlanBuilder, source: number, length: Colour, cell: number, black: boolean): number {
  const { width, height } = builder.size(source);
  const out = builder.level(source);
  const decay = [...length.map((px) => Math.exp(-cell / Math.max(px, 1e-3))), 0];
  const lead = Math.min(width, Math.ceil((LEAD_LENGTHS * Math.max(...length)) / cell));
  return builder.add("smearRows", { source, out, width, height, decay: builder.floats(decay), lead, black });
}

/** Standard deviation, in cells, above which a line is blurred a level lower. */
const MIN_AT_LEVEL = 1.05;

/** Blurs columns to a standard deviation of `sigma` cells, in as few passes as the taps allow. */
function thicken(builder: PlanBuilder, source: number, variance: number, black: boolean): number {
  const passes = Math.max(1, Math.ceil(variance / MAX_VARIANCE));
  const taps = blurTaps(variance / passes);
  let image = source;
  for (let i = 0; i < passes; i++) image = planBlur(builder, image, { x: [1], y: taps }, { black }, { x: 0, y: 4 });
  return image;
}

/** Lines that are turned, or more than one of them. Outside the frame they take no light. */
export function planTurned(
  builder: PlanBuilder,
  input: number,
  strength: number,
  values: Streak,
  { geometry }: FrameContext,
): number {
  const gain = ((values.gain / 100) * strength) / values.count;
  const strand = (share: number, tint: Colour, ratio: number) => ({
    length: values.length.map((percent) => (percent / 100) * geometry.width * ratio) as unknown as Colour,
    weight: tint.map((t) => t * share * gain) as unknown as Colour,
  });
  return planLines(builder, input, {
    lines: Array.from({ length: values.count }, (_, i) => ({
      angle: values.angle + (180 * i) / values.count,
      oneWay: false,
    })),
    strands: [
      strand(1 - values.tail, values.tint, 1),
      ...(values.tail > 0 ? [strand(values.tail, values.tintTail, STREAK_TAIL_RATIO)] : []),
    ],
    thickness: (values.thickness / 100) * geometry.height,
    key: builder.table(keyRecord(keyOf(values))),
  });
}

/** One line along the rows. */
export function planAlong(
  builder: PlanBuilder,
  input: number,
  strength: number,
  values: Streak,
  { geometry }: FrameContext,
): number {
  const black = values.surround === "black";
  const sigma = (values.thickness / 100) * geometry.height;
  // Thick lines are blurred at lower levels, where one pass does: the variance left there stays between a third and
  // about three cells.
  const down = Math.max(0, Math.floor(Math.log2(Math.max(sigma, 1e-3) / MIN_AT_LEVEL)));
  let image = input;
  const levels = [input];
  for (let k = 0; k < Math.max(HALVINGS, down); k++) {
    const key = k ? null : builder.table(keyRecord(keyOf(values)));
    image = planReduce(builder, image, { x: k < HALVINGS, y: k < down }, { black, key });
    levels.push(image);
  }
  const own = (5 / 6) * (1 - 4 ** -down);
  const variance = sigma ** 2 / 4 ** down - own;
  if (variance > 0.05) image = thicken(builder, image, variance, black);
  const cell = 2 ** HALVINGS;
  const length = values.length.map((percent) => (percent / 100) * geometry.width) as unknown as Colour;
  const core = smear(builder, image, length, cell, black);
  const tail =
    values.tail > 0
      ? smear(builder, image, length.map((px) => px * STREAK_TAIL_RATIO) as unknown as Colour, cell, black)
      : null;
  const gain = (values.gain / 100) * strength;
  const weights = (share: number, tint: Colour) => tint.map((t) => t * share * gain);
  let coarse: number | null = null;
  for (let k = Math.max(HALVINGS, down); k >= 0; k--) {
    const doubled = { doubleX: k < HALVINGS, doubleY: k < down, weight: [1, 1, 1] };
    const top: boolean = coarse === null;
    coarse = planGather(builder, {
      like: levels[k]!,
      coarse: coarse === null ? null : { buffer: coarse, ...doubled },
      planes: [
        { buffer: top ? core : null, weight: weights(1 - values.tail, values.tint) },
        { buffer: top ? tail : null, weight: weights(values.tail, values.tintTail) },
      ],
      under: { buffer: k === 0 ? input : null, weight: [1, 1, 1] },
    });
  }
  return coarse!;
}
