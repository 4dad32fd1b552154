import type { TableRef } from "./kernels";
import type { PlanBuilder } from "./plan";

/** What lies outside a frame, and the light that is taken: shared by what reads round about. */
export interface Around {
  /** Black lies outside the frame, instead of its mirror image. */
  black?: boolean;
  /** Record of a highlight key (core/elements/key.ts): only what it takes is read. */
  key?: TableRef | null;
}

/** Emits a halving in the directions asked for; returns the result's buffer. */
export function planReduce(
  builder: PlanBuilder,
  source: number,
  halves: { x: boolean; y: boolean },
  { black = false, key = null }: Around = {},
): number {
  const { width, height, edgeX, edgeY } = builder.size(source);
  const out = builder.level(source, halves.x, halves.y);
  return builder.add("reduce", {
    source,
    out,
    width,
    height,
    edgeX,
    edgeY,
    halveX: halves.x,
    halveY: halves.y,
    black,
    key,
  });
}

/** Taps of a symmetric filter across and down, its middle one first; five of each. */
export interface Taps {
  x: readonly number[];
  y: readonly number[];
}

const MAX_TAPS = 5;
const padded = (taps: readonly number[]) => Array.from({ length: MAX_TAPS }, (_, i) => taps[i] ?? 0);
/** Radius a filter is run at, cells. */
export const radiusOf = (taps: readonly number[]) => (taps[3] || taps[4] ? 4 : 2);

/** Emits a blur across and down; returns the result's buffer. */
export function planBlur(
  builder: PlanBuilder,
  source: number,
  { x, y }: Taps,
  { black = false, key = null }: Around = {},
  radius: { x: number; y: number } = { x: radiusOf(x), y: radiusOf(y) },
): number {
  const { width, height, edgeX, edgeY } = builder.size(source);
  const out = builder.level(source);
  const taps = builder.floats([...padded(x), ...padded(y)]);
  return builder.add("blur", {
    source,
    out,
    width,
    height,
    edgeX,
    edgeY,
    radiusX: radius.x,
    radiusY: radius.y,
    taps,
    black,
    key,
  });
}

/**
 * Emits a change of size by tables of weights (maths/taps.ts) into `out`; returns it. `from`: a buffer, or a table with
 * a width (px).
 */
export function planResize(
  builder: PlanBuilder,
  from: number | { table: TableRef; width: number },
  out: number,
  across: Float32Array,
  down: Float32Array,
): number {
  return builder.add("resize", {
    source: typeof from === "number" ? from : from.table,
    out,
    width: typeof from === "number" ? builder.size(from).width : from.width,
    outWidth: builder.size(out).width,
    across: builder.table(across),
    down: builder.table(down),
  });
}

type Weight = readonly number[];

/**
 * What is gathered: planes of one size, and a coarser one that is doubled; each with its weight in R, G, B (and alpha).
 */
export interface Gathering {
  /** A buffer of the size and edges of what comes out. */
  like: number;
  coarse?: { buffer: number; doubleX: boolean; doubleY: boolean; weight: Weight } | null;
  planes?: readonly ({ buffer: number | null; weight: Weight } | null)[];
  /** The picture they are laid on, alpha its own. */
  under?: { buffer: number | null; weight: Weight } | null;
}

const PLANES = 3;
const NOTHING: Weight = [0, 0, 0, 0];
const four = (weight: Weight) => Array.from({ length: 4 }, (_, i) => weight[i] ?? 0);

/** Emits a weighted sum of planes; returns the result's buffer. */
export function planGather(builder: PlanBuilder, { like, coarse, planes = [], under }: Gathering): number {
  const out = builder.level(like);
  const { width, height } = builder.size(out);
  const below = coarse ? builder.size(coarse.buffer) : { width: 0, height: 0, edgeX: 0, edgeY: 0 };
  const three = Array.from({ length: PLANES }, (_, i) => planes[i] ?? null);
  const weights = [coarse, ...three, under].map((part) => four(part?.weight ?? NOTHING));
  return builder.add("gather", {
    coarse: coarse?.buffer ?? null,
    coarseWidth: below.width,
    coarseHeight: below.height,
    edgeX: below.edgeX,
    edgeY: below.edgeY,
    planeA: three[0]?.buffer ?? null,
    planeB: three[1]?.buffer ?? null,
    planeC: three[2]?.buffer ?? null,
    under: under?.buffer ?? null,
    out,
    width,
    height,
    doubleX: coarse?.doubleX ?? false,
    doubleY: coarse?.doubleY ?? false,
    weights: builder.floats(weights.flat()),
  });
}
