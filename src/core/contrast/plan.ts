import type { FrameGeometry } from "../engine/geometry";
import { cornerHeight } from "../engine/geometry";
import type { PlanBuilder } from "../engine/plan";
import { blurVariance, tapsOf } from "./bank";
import type { Gains } from "./fit";

/** Entries of the table of gains over image height squared; linear between them. */
const ENTRIES = 256;
/** Heights the gains are fitted at; between them they are smooth. */
const FITTED = 16;
const REACH = 1.02;

const radiusOf = (taps: number[]) => (taps[3] || taps[4] ? 4 : 2);

/** The buffers of the bank's members, at full size. */
export function planMembers(builder: PlanBuilder, input: number, { pitchX, pitchY }: FrameGeometry): number[] {
  const squareX = (pitchY / pitchX) ** 2;
  const isSquare = Math.abs(squareX - 1) < 1e-6;
  const blur = (source: number, index: number) => {
    const { width, height, edgeX, edgeY } = builder.size(source);
    const out = builder.level(source);
    const y = tapsOf(blurVariance(index));
    const x = isSquare ? y : tapsOf(blurVariance(index) * squareX);
    return builder.add("blur", [{ buffer: source }, { buffer: out }, width, height, edgeX, edgeY, radiusOf(x), radiusOf(y), builder.floats([...x, ...y]), 0, 0], out);
  };
  const reduce = (source: number) => {
    const { width, height, edgeX, edgeY } = builder.size(source);
    const out = builder.level(source, true, true);
    return builder.add("reduce", [{ buffer: source }, { buffer: out }, width, height, edgeX, edgeY, 1, 1, 0, 0], out);
  };
  const expand = (coarse: number, like: number) => {
    const below = builder.size(coarse);
    const out = builder.level(like);
    const { width, height } = builder.size(out);
    const weights = builder.floats([1, 1, 1, 1, ...new Array<number>(16).fill(0)]);
    return builder.add("gather", [{ buffer: coarse }, below.width, below.height, below.edgeX, below.edgeY, 0, 0, 0, 0, { buffer: out }, width, height, 1, 1, weights], out);
  };
  const first = blur(input, 0);
  const second = blur(first, 1);
  const half = blur(reduce(second), 2);
  const quarter = blur(reduce(half), 3);
  return [input, first, second, expand(half, input), expand(expand(quarter, half), input)];
}

/** Emits contrast by height, direction and frequency; `gainsAt`: image height, mm, to gains. Returns the result's buffer. */
export function planContrast(builder: PlanBuilder, input: number, geometry: FrameGeometry, gainsAt: (height: number) => Gains): number {
  const members = planMembers(builder, input, geometry);
  const out = builder.buffer();
  const { axisX, axisY, pitchX, pitchY, width, height } = geometry;
  const reach = cornerHeight(geometry) * REACH;
  const fitted = Array.from({ length: FITTED + 1 }, (_, i) => {
    const { mean, edge, half: [fine, ...half] } = gainsAt((reach * i) / FITTED);
    return [...mean, ...half, fine!, edge, 0, 0];
  });
  const entry = (index: number) => {
    const place = Math.sqrt(index / (ENTRIES - 1)) * FITTED;
    const cell = Math.min(FITTED - 1, Math.floor(place));
    return fitted[cell]!.map((value, k) => value + (fitted[cell + 1]![k]! - value) * (place - cell));
  };
  const table = Array.from({ length: ENTRIES + 1 }, (_, i) => entry(Math.min(i, ENTRIES - 1))).flat();
  const record = builder.floats([axisX, axisY, pitchX, pitchY, (ENTRIES - 1) / reach ** 2, ENTRIES - 1, (pitchY / pitchX) ** 2, 1, 0, 0, 0, 0, ...table]);
  return builder.add("contrast", [...members.map((buffer) => ({ buffer })), { buffer: out }, width, height, record], out);
}
