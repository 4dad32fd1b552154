import type { FrameGeometry } from "../engine/geometry";
import { cornerHeight } from "../engine/geometry";
import type { PlanBuilder } from "../engine/plan";
import { monotoneCubic } from "../maths/interpolate";
import { blurVariance, memberVariances, tapsOf } from "./bank";
import { planDouble, planHalve, planLay } from "../spread/gaussian";
import type { Gains } from "./fit";

/** Entries of the table of gains over image height squared; linear between them. */
const ENTRIES = 1024;
/** Heights the gains are fitted at; between them they are smooth, for a kink would be a faint ring in the picture. */
const FITTED = 16;
const REACH = 1.02;

const radiusOf = (taps: number[]) => (taps[3] || taps[4] ? 4 : 2);

/** The buffers of the bank's members: three at full size; the third again and two more at half of it; where wanted the fifth again and two wider ones at a quarter. */
function planMembers(builder: PlanBuilder, input: number, isWide: boolean, { pitchX, pitchY }: FrameGeometry) {
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
  const members = { fine: [input, first, second], coarse: [reduced, half, planDouble(builder, quarter, half)], coarsest: null };
  if (!isWide) return members;
  const eighth = blur(planHalve(builder, quarter), 3);
  const sixteenth = blur(planHalve(builder, eighth), 3);
  return { ...members, coarsest: [quarter, ...[eighth, planDouble(builder, sixteenth, eighth)].map((buffer) => planDouble(builder, buffer, quarter))] };
}

/** What the kernels read by image height squared, twelve figures an entry (assembly/contrast.ts). The second is for the wide bank's further members. */
export interface HeightTables {
  usual: number[];
  further: number[] | null;
}

/** Factors on the distances across and down that make height even on an ellipse `aspect` times as wide as high, and keep the corner's. */
export function squash({ width, height, pitchX, pitchY }: FrameGeometry, aspect: number): [number, number] {
  const [x, y] = [width * pitchX, height * pitchY];
  const root = Math.sqrt(aspect);
  const corner = Math.hypot(x, y) / Math.hypot(x / root, y * root);
  return [corner / root, corner * root];
}

/** Image heights of a table's entries, mm: even in the height's square. */
const heightsOf = (geometry: FrameGeometry) => Array.from({ length: ENTRIES + 1 }, (_, i) => cornerHeight(geometry) * REACH * Math.sqrt(Math.min(i, ENTRIES - 1) / (ENTRIES - 1)));

/** The table of gains, which are fitted at a few heights (`gainsAt`, mm) and smooth between. */
export function gainTable(geometry: FrameGeometry, gainsAt: (height: number) => Gains): HeightTables {
  const reach = cornerHeight(geometry) * REACH;
  // Everything beyond the bands stays as it is.
  const fitted = Array.from({ length: FITTED + 1 }, (_, i) => gainsAt((reach * i) / FITTED)).map(({ mean, half, edge }) => [...mean, ...half, edge, 1, 0]);
  const curves = fitted[0]!.map((_, k) => monotoneCubic(fitted.map((__, i) => i), fitted.map((entry) => entry[k]!)));
  return { usual: heightsOf(geometry).flatMap((height) => curves.map((curve) => curve((height / reach) * FITTED))), further: null };
}

/** The tables of a blur whose variance (px²) is given by image height, mm. */
export function blurTables(geometry: FrameGeometry, varianceAt: (height: number) => number): HeightTables {
  const entries = heightsOf(geometry).map((height) => blurEntry(varianceAt(height)));
  const isWide = entries.some(({ further }) => further.some((figure, k) => figure !== NO_FURTHER[k]));
  return { usual: entries.flatMap(({ usual }) => usual), further: isWide ? entries.flatMap(({ further }) => further) : null };
}

/** An entry of the further members where none is used. */
const NO_FURTHER = [0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0];

/**
 * An entry of a blur of a variance, px²: the two members around it, mixed to it. What is mixed of blurs neither rings nor goes below
 * black, whatever stands beside a lamp. A variance beyond the bank's is its widest.
 */
function blurEntry(variance: number): { usual: number[]; further: number[] } {
  const last = memberVariances.length - 1;
  const held = Math.min(variance, memberVariances[last]!);
  const above = Math.max(1, memberVariances.findIndex((entry) => entry >= held));
  const share = (held - memberVariances[above - 1]!) / (memberVariances[above]! - memberVariances[above - 1]!);
  const w = memberVariances.map((_, k) => (k === above ? share : k === above - 1 ? 1 - share : 0));
  // The bands' gains that leave each member its weight, and what is left of the last member beside them.
  return {
    usual: [w[0]!, w[0]! + w[1]!, 1, 1 + w[3]!, 0, 0, 0, 0, 0, 0, w[0]! + w[1]! + w[2]!, w[3]! + w[4]!],
    further: [0, 0, 1, 1 + w[5]!, 0, 0, 0, 0, 0, 0, 0, w[5]! + w[6]!],
  };
}

/** Emits contrast by height, direction and frequency, of tables by image height. `aspect`: how many times as wide as high the ellipse is on which height is even. Returns the result's buffer. */
export function planContrast(builder: PlanBuilder, input: number, geometry: FrameGeometry, { usual, further }: HeightTables, aspect = 1): number {
  const { fine, coarse, coarsest } = planMembers(builder, input, Boolean(further), geometry);
  const out = builder.buffer();
  const { axisX, axisY, pitchX, pitchY, width, height } = geometry;
  const reach = cornerHeight(geometry) * REACH;
  const [across, down] = squash(geometry, aspect);
  // Cells of half the size cover two pixels a side, from the frame's corner on.
  const record = (size: number, table: number[]) => {
    const [x, y] = [axisX, axisY].map((axis) => (axis - (size - 1) / 2) / size) as [number, number];
    return builder.floats([x, y, pitchX * size, pitchY * size, (ENTRIES - 1) / reach ** 2, ENTRIES - 1, (pitchY / pitchX) ** 2, 1, pitchX * size * across, pitchY * size * down, 0, 0, ...table]);
  };
  const buffers = (members: number[]) => members.map((buffer) => ({ buffer }));
  const planLow = (members: number[], size: number, table: number[]) => {
    const low = builder.level(members[0]!);
    return builder.add("contrastLow", [...buffers(members), { buffer: low }, builder.size(low).width, builder.size(low).height, record(size, table)], low);
  };
  let low = planLow(coarse, 2, usual);
  if (coarsest) low = planLay(builder, low, planLow(coarsest, 4, further!), [1, 1, 1]);
  const half = builder.size(low);
  return builder.add("contrast", [...buffers(fine), { buffer: low }, half.width, half.height, half.edgeX, half.edgeY, { buffer: out }, width, height, record(1, usual)], out);
}
