import type { FrameGeometry } from "../frame/geometry";
import { planBlur, radiusOf } from "../engine/operations";
import type { PlanBuilder } from "../engine/plan";
import { planDouble, planHalve, planSum } from "../spread/gaussian";
import { blurVariance, pixelShape, tapsOf } from "./bank";
import { ENTRIES, type HeightTables, reachOf } from "./tables";

/** Rows at least this long (px) are blurred twice in one going, as assembly/convolve.ts does it. */
const LONG = 32;

/**
 * The buffers of the bank's members: three at full size; the third again and two more at half of it; where wanted the
 * fifth again and two wider ones at a quarter.
 */
function planMembers(builder: PlanBuilder, input: number, isWide: boolean, geometry: FrameGeometry) {
  const shape = pixelShape(geometry);
  const tapsFor = (index: number) => ({
    x: tapsOf(blurVariance(index, shape.x)),
    y: tapsOf(blurVariance(index, shape.y)),
  });
  const blur = (source: number, index: number) => planBlur(builder, source, tapsFor(index));
  const blurBoth = (): [number, number] => {
    const { width, height } = builder.size(input);
    const both = [0, 1].map(tapsFor);
    if (width < LONG || both.some(({ x, y }) => radiusOf(x) > 2 || radiusOf(y) > 2)) {
      const first = blur(input, 0);
      return [first, blur(first, 1)];
    }
    const [first, second] = [builder.level(input), builder.level(input)];
    const taps = builder.floats(both.flatMap(({ x, y }) => [...x.slice(0, 3), ...y.slice(0, 3)]));
    builder.add("blurTwice", { source: input, first, out: second, width, height, taps });
    return [first, second];
  };
  const [first, second] = blurBoth();
  const reduced = planHalve(builder, second);
  const half = blur(reduced, 2);
  const quarter = blur(planHalve(builder, half), 3);
  const members = {
    fine: [input, first, second],
    coarse: [reduced, half, planDouble(builder, quarter, half)],
    coarsest: null,
  };
  if (!isWide) return members;
  const eighth = blur(planHalve(builder, quarter), 3);
  const sixteenth = blur(planHalve(builder, eighth), 3);
  return {
    ...members,
    coarsest: [
      quarter,
      ...[eighth, planDouble(builder, sixteenth, eighth)].map((buffer) => planDouble(builder, buffer, quarter)),
    ],
  };
}

/**
 * Factors on the distances across and down that make height even on an ellipse `aspect` times as wide as high, and keep
 * the corner's.
 */
export function squash({ width, height, pitchX, pitchY }: FrameGeometry, aspect: number): [number, number] {
  const [x, y] = [width * pitchX, height * pitchY];
  const root = Math.sqrt(aspect);
  const corner = Math.hypot(x, y) / Math.hypot(x / root, y * root);
  return [corner / root, corner * root];
}

/**
 * Emits contrast by height, direction and frequency, of tables by image height. `aspect`: how many times as wide as
 * high the ellipse is on which height is even. Returns the result's buffer.
 */
export function planContrast(
  builder: PlanBuilder,
  input: number,
  geometry: FrameGeometry,
  { usual, further }: HeightTables,
  aspect = 1,
): number {
  const { fine, coarse, coarsest } = planMembers(builder, input, Boolean(further), geometry);
  const out = builder.buffer();
  const { axisX, axisY, pitchX, pitchY } = geometry;
  const { width, height } = builder.size(out);
  const [across, down] = squash(geometry, aspect);
  const shape = pixelShape(geometry);
  // Cells of half the size cover two pixels a side, from the frame's corner on.
  const record = (size: number, table: Float32Array) => {
    const [x, y] = [axisX, axisY].map((axis) => (axis - (size - 1) / 2) / size) as [number, number];
    const head = [
      x,
      y,
      pitchX * size,
      pitchY * size,
      (ENTRIES - 1) / reachOf(geometry) ** 2,
      ENTRIES - 1,
      shape.x ** 2,
      shape.y ** 2,
      pitchX * size * across,
      pitchY * size * down,
      0,
      0,
    ];
    const all = new Float32Array(head.length + table.length);
    all.set(head);
    all.set(table, head.length);
    return builder.table(all);
  };
  const named = ([sharp, blurred, blurredTwice]: number[]) => ({
    sharp: sharp!,
    blurred: blurred!,
    blurredTwice: blurredTwice!,
  });
  const planLow = (members: number[], size: number, table: Float32Array) => {
    const out = builder.level(members[0]!);
    const { width: cells, height: rows } = builder.size(out);
    const low = { ...named(members), out, width: cells, height: rows, record: record(size, table) };
    return builder.add("contrastLow", low);
  };
  let low = planLow(coarse, 2, usual);
  if (coarsest) low = planSum(builder, low, planLow(coarsest, 4, further!));
  const half = builder.size(low);
  return builder.add("contrast", {
    ...named(fine),
    low,
    lowWidth: half.width,
    lowHeight: half.height,
    edgeX: half.edgeX,
    edgeY: half.edgeY,
    out,
    width,
    height,
    record: record(1, usual),
  });
}
