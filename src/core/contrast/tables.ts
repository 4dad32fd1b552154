import { cornerHeight, type FrameGeometry } from "../frame/geometry";
import { monotoneCubic } from "../maths/interpolate";
import { memberVariances } from "./bank";
import type { Gains } from "./fit";

/** Entries of a table over image height squared; linear between them. */
export const ENTRIES = 1024;
/** Heights the gains are fitted at; between them they are smooth, for a kink would be a faint ring in the picture. */
const FITTED = 16;

/** The image height of a table's last entry, mm: a little beyond the corner. */
export const reachOf = (geometry: FrameGeometry) => cornerHeight(geometry) * 1.02;

/**
 * What the kernels read by image height squared, twelve figures an entry (assembly/contrast.ts). The second is for the
 * wide bank's further members.
 */
export interface HeightTables {
  usual: Float32Array;
  further: Float32Array | null;
}

/** Image heights of a table's entries, mm: even in the height's square. */
const heightsOf = (geometry: FrameGeometry) =>
  Array.from(
    { length: ENTRIES + 1 },
    (_, i) => reachOf(geometry) * Math.sqrt(Math.min(i, ENTRIES - 1) / (ENTRIES - 1)),
  );

/** The table of gains, which are fitted at a few heights (`gainsAt`, mm) and smooth between. */
export function gainTable(geometry: FrameGeometry, gainsAt: (height: number) => Gains): HeightTables {
  const reach = reachOf(geometry);
  const fitted = Array.from({ length: FITTED + 1 }, (_, i) => gainsAt((reach * i) / FITTED)).map(
    ({ mean, half, edge }) => [...mean, ...half, edge, 0, 0],
  );
  const curves = fitted[0]!.map((_, k) =>
    monotoneCubic(
      fitted.map((__, i) => i),
      fitted.map((entry) => entry[k]!),
    ),
  );
  return {
    usual: Float32Array.from(
      heightsOf(geometry).flatMap((height) => curves.map((curve) => curve((height / reach) * FITTED))),
    ),
    further: null,
  };
}

/** The tables of a blur whose variance (px² of a pixel's shorter side) is given by image height, mm. */
export function blurTables(geometry: FrameGeometry, varianceAt: (height: number) => number): HeightTables {
  const entries = heightsOf(geometry).map((height) => blurEntry(varianceAt(height)));
  const isWide = entries.some(({ further }) => further.some((figure, k) => figure !== NO_FURTHER[k]));
  const table = (which: "usual" | "further") => Float32Array.from(entries.flatMap((entry) => entry[which]));
  return { usual: table("usual"), further: isWide ? table("further") : null };
}

/** An entry of the further members where none is used. */
const NO_FURTHER = [0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0];

/**
 * An entry of a blur of a variance, px²: the two members around it, mixed to it. What is mixed of blurs neither rings
 * nor goes below black, whatever stands beside a lamp. A variance beyond the bank's is its widest.
 */
function blurEntry(variance: number): { usual: number[]; further: number[] } {
  const last = memberVariances.length - 1;
  const clamped = Math.min(variance, memberVariances[last]!);
  const above = Math.max(
    1,
    memberVariances.findIndex((entry) => entry >= clamped),
  );
  const share = (clamped - memberVariances[above - 1]!) / (memberVariances[above]! - memberVariances[above - 1]!);
  const w = memberVariances.map((_, k) => (k === above ? share : k === above - 1 ? 1 - share : 0));
  // Gains that leave each member its weight. The fine ones share what the coarse ones leave, as the kernel sees it: an
  // even field stays even.
  const fine = w[0]! + w[1]! + w[2]!;
  const [first, second] = fine > 0 ? [w[0]! / fine, (w[0]! + w[1]!) / fine] : [0, 0];
  return {
    usual: [first, second, 1, 1 + w[3]!, 0, 0, 0, 0, 0, 0, 0, w[3]! + w[4]!],
    further: [0, 0, 1, 1 + w[5]!, 0, 0, 0, 0, 0, 0, 0, w[5]! + w[6]!],
  };
}
