import type { FrameGeometry } from "../engine/geometry";
import { cornerHeight } from "../engine/geometry";
import type { PlanBuilder } from "../engine/plan";
import { monotoneCubic } from "../maths/interpolate";
import { blurVariance, tapsOf } from "./bank";
import { planDouble, planHalve } from "../spread/gaussian";
import type { Gains } from "./fit";

/** Entries of the table of gains over image height squared; linear between them. */
const ENTRIES = 1024;
/** Heights the gains are fitted at; between them they are smooth, for a kink would be a faint ring in the picture. */
const FITTED = 16;
const REACH = 1.02;

const radiusOf = (taps: number[]) => (taps[3] || taps[4] ? 4 : 2);

/** The buffers of the bank's members: three at full size; the third again and two more at half of it. */
function planMembers(builder: PlanBuilder, input: number, { pitchX, pitchY }: FrameGeometry) {
  const squareX = (pitchY / pitchX) ** 2;
  const isSquare = Math.abs(squareX - 1) < 1e-6;
  const blur = (source: number, index: number) => {
    const { width, height, edgeX, edgeY } = builder.size(source);
    const out = builder.level(source);
    const y = tapsOf(blurVariance(index));
    const x = isSquare ? y : tapsOf(blurVariance(index) * squareX);
    return builder.add("blur", [{ buffer: source }, { buffer: out }, width, height, edgeX, edgeY, radiusOf(x), radiusOf(y), builder.floats([...x, ...y]), 0, 0], out);
  };
  const first = blur(input, 0);
  const second = blur(first, 1);
  const reduced = planHalve(builder, second);
  const half = blur(reduced, 2);
  const quarter = blur(planHalve(builder, half), 3);
  return { fine: [input, first, second], coarse: [reduced, half, planDouble(builder, quarter, half)] };
}

/** Gains by image height squared, as the kernels read them; `gainsAt`: image height, mm, to gains. */
export function gainTable(geometry: FrameGeometry, gainsAt: (height: number) => Gains): number[] {
  const reach = cornerHeight(geometry) * REACH;
  const fitted = Array.from({ length: FITTED + 1 }, (_, i) => {
    const { mean, edge, half } = gainsAt((reach * i) / FITTED);
    return [...mean, ...half, edge, 0, 0];
  });
  const curves = fitted[0]!.map((_, k) => monotoneCubic(fitted.map((__, i) => i), fitted.map((gains) => gains[k]!)));
  return Array.from({ length: ENTRIES + 1 }, (_, i) => Math.sqrt(Math.min(i, ENTRIES - 1) / (ENTRIES - 1)) * FITTED).flatMap((place) => curves.map((curve) => curve(place)));
}

/** Emits contrast by height, direction and frequency, of a table of gains. Returns the result's buffer. */
export function planContrast(builder: PlanBuilder, input: number, geometry: FrameGeometry, table: number[]): number {
  const { fine, coarse } = planMembers(builder, input, geometry);
  const out = builder.buffer();
  const { axisX, axisY, pitchX, pitchY, width, height } = geometry;
  const reach = cornerHeight(geometry) * REACH;
  // Cells of half the size cover two pixels a side, from the frame's corner on.
  const record = (x: number, y: number, size: number) => builder.floats([x, y, pitchX * size, pitchY * size, (ENTRIES - 1) / reach ** 2, ENTRIES - 1, (pitchY / pitchX) ** 2, 1, 0, 0, 0, 0, ...table]);
  const buffers = (members: number[]) => members.map((buffer) => ({ buffer }));
  const low = builder.level(coarse[0]!);
  const half = builder.size(low);
  builder.add("contrastLow", [...buffers(coarse), { buffer: low }, half.width, half.height, record((axisX - 0.5) / 2, (axisY - 0.5) / 2, 2)], low);
  return builder.add("contrast", [...buffers(fine), { buffer: low }, half.width, half.height, half.edgeX, half.edgeY, { buffer: out }, width, height, record(axisX, axisY, 1)], out);
}
