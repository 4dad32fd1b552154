/**
 * A region as it looked when it was taken: samples on a few levels, and how each changes as the region moves, turns and
 * grows.
 */
import { blurred, type Gray, halvedGray, type GrayPart } from "./gray";
import type { TrackModel } from "./track";

/** Where a region's middle is, px; how many times its size; how far it is turned, radians clockwise. */
export interface Pose {
  x: number;
  y: number;
  scale: number;
  rotation: number;
}

/** Samples along the longer side of a region; more say no more. */
const MAX_SAMPLES = 56;
/** Regions are not halved below this, px. */
const MIN_SIDE = 14;
const MAX_LEVELS = 4;
/** The margins of a region count less: what is behind it shows there. */
const WINDOW = 1.4;

export interface Level {
  /** Places of the samples about the middle, px of the full frame, and their values, weights and steepest descents. */
  u: Float32Array;
  v: Float32Array;
  value: Float32Array;
  weight: Float32Array;
  descents: Float32Array[];
  inverse: number[][];
  /** Distance between samples, px of the full frame. */
  step: number;
}

/** A region as it looked on the frame it was drawn on, ready to be found again. */
export interface Template {
  model: TrackModel;
  /** From the finest level to the coarsest. */
  levels: (Level | null)[];
}

/** A picture halved again and again, the finest first; every level is a little blurred, against noise. */
export function pyramidOf(gray: Gray, levels: number): Gray[] {
  const out = [gray];
  for (let k = 1; k < levels; k++) out.push(halvedGray(out[k - 1]!));
  return out.map(blurred);
}

/** Linear between pixels, edges repeated. */
export function sample({ width, height, data }: Gray, x: number, y: number): number {
  const px = Math.min(width - 1.001, Math.max(0, x));
  const py = Math.min(height - 1.001, Math.max(0, y));
  const [ix, iy] = [px | 0, py | 0];
  const [fx, fy] = [px - ix, py - iy];
  const at = iy * width + ix;
  const top = data[at]! + fx * (data[at + 1]! - data[at]!);
  const below = data[at + width]! + fx * (data[at + width + 1]! - data[at + width]!);
  return top + fy * (below - top);
}

/** Mean and spread of weighted values. */
function momentsOf(values: Float32Array, weights: Float32Array): { mean: number; spread: number } {
  let [sum, mean, squares] = [0, 0, 0];
  for (let i = 0; i < values.length; i++) {
    sum += weights[i]!;
    mean += weights[i]! * values[i]!;
  }
  mean /= sum;
  for (let i = 0; i < values.length; i++) squares += weights[i]! * (values[i]! - mean) ** 2;
  return { mean, spread: Math.sqrt(squares / sum) };
}

/** Spread below which a region is even, and there is nothing in it to follow. */
const EVEN = 1e-6;

/** Takes mean and spread out of weighted values; returns the spread, or 0 where there is none. */
export function normalise(values: Float32Array, weights: Float32Array): number {
  const { mean, spread } = momentsOf(values, weights);
  if (spread < EVEN) return 0;
  for (let i = 0; i < values.length; i++) values[i] = (values[i]! - mean) / spread;
  return spread;
}

/** Inverse of a small symmetric matrix by Gauss and Jordan; null where it has none. */
export function inverted(matrix: number[][]): number[][] | null {
  const n = matrix.length;
  const rows = matrix.map((row, i) => [...row, ...Array.from({ length: n }, (_, k) => (k === i ? 1 : 0))]);
  for (let i = 0; i < n; i++) {
    const pivot = rows
      .slice(i)
      .reduce((best, row, k) => (Math.abs(row[i]!) > Math.abs(rows[best]![i]!) ? i + k : best), i);
    [rows[i], rows[pivot]] = [rows[pivot]!, rows[i]!];
    const by = rows[i]![i]!;
    if (Math.abs(by) < 1e-9) return null;
    rows[i] = rows[i]!.map((value) => value / by);
    for (let k = 0; k < n; k++) {
      if (k === i) continue;
      const factor = rows[k]![i]!;
      rows[k] = rows[k]!.map((value, c) => value - factor * rows[i]![c]!);
    }
  }
  return rows.map((row) => row.slice(n));
}

/** How sharply a region's difference grows as it moves, turns and grows: Gauss and Newton's matrix. */
export const hessianOf = (descents: readonly Float32Array[], weight: Float32Array): number[][] =>
  descents.map((a) =>
    descents.map((b) => {
      let sum = 0;
      for (let i = 0; i < weight.length; i++) sum += weight[i]! * a[i]! * b[i]!;
      return sum;
    }),
  );

const levelsFor = (width: number, height: number) =>
  Math.max(1, Math.min(MAX_LEVELS, 1 + Math.floor(Math.log2(Math.min(width, height) / MIN_SIDE))));

/** Where a sample of the region lies under a pose. */
function placed(pose: Pose, u: number, v: number): [number, number] {
  const [c, s] = [Math.cos(pose.rotation) * pose.scale, Math.sin(pose.rotation) * pose.scale];
  return [pose.x + u * c - v * s, pose.y + u * s + v * c];
}

/** The samples of one level, with how each changes as the region moves, turns and grows. */
function levelOf(
  picture: Gray,
  k: number,
  offset: { left: number; top: number },
  size: { width: number; height: number },
  pose: Pose,
  model: TrackModel,
): Level | null {
  const step = Math.max(2 ** k, Math.max(size.width, size.height) / MAX_SAMPLES);
  const columns = Math.max(3, Math.floor(size.width / step));
  const rows = Math.max(3, Math.floor(size.height / step));
  const count = columns * rows;
  const [u, v, value, weight] = [0, 0, 0, 0].map(() => new Float32Array(count)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const parameters = model === "similarity" ? 4 : 2;
  const descents = Array.from({ length: parameters }, () => new Float32Array(count));
  const cell = 2 ** k;
  const at = (x: number, y: number) => sample(picture, (x - offset.left) / cell, (y - offset.top) / cell);
  const shift = cell * 0.5;
  for (let j = 0, i = 0; j < rows; j++)
    for (let c = 0; c < columns; c++, i++) {
      u[i] = ((c + 0.5) / columns - 0.5) * size.width;
      v[i] = ((j + 0.5) / rows - 0.5) * size.height;
      const [x, y] = placed(pose, u[i]!, v[i]!);
      value[i] = at(x, y);
      const reach = ((2 * u[i]!) / size.width) ** 2 + ((2 * v[i]!) / size.height) ** 2;
      weight[i] = Math.exp(-WINDOW * reach);
    }
  const spread = normalise(value, weight);
  if (!spread) return null;
  // Gradients of the normalised picture along the region's own axes, by differences of half a cell.
  for (let i = 0; i < count; i++) {
    const gu = (at(...placed(pose, u[i]! + shift, v[i]!)) - at(...placed(pose, u[i]! - shift, v[i]!))) / (2 * shift);
    const gv = (at(...placed(pose, u[i]!, v[i]! + shift)) - at(...placed(pose, u[i]!, v[i]! - shift))) / (2 * shift);
    descents[0]![i] = gu / spread;
    descents[1]![i] = gv / spread;
    if (parameters === 4) {
      descents[2]![i] = (gu * u[i]! + gv * v[i]!) / spread;
      descents[3]![i] = (gv * u[i]! - gu * v[i]!) / spread;
    }
  }
  const inverse = inverted(hessianOf(descents, weight));
  return inverse && { u, v, value, weight, descents, inverse, step };
}

/**
 * Takes a region (px, of `size` about the pose's middle) of a part of a frame as what is looked for. Null where it is
 * even.
 */
export function templateOf(
  part: GrayPart,
  size: { width: number; height: number },
  pose: Pose,
  model: TrackModel,
): Template | null {
  const pictures = pyramidOf(part, levelsFor(size.width, size.height));
  const levels = pictures.map((picture, k) => levelOf(picture, k, part, size, pose, model));
  return levels[0] ? { model, levels } : null;
}
