/** Edges over a frame, gathered into a lens's table of contrast by image height and frequency. */
import { leastSquares } from "../../maths/leastSquares";
import { contrastAt } from "../edge";
import { MeasureError } from "../plane";
import type { FoundEdge } from "./edges";

/** Where the optical axis meets the picture, px, and mm a px. */
export interface Place {
  axisX: number;
  axisY: number;
  pitch: number;
}

export interface ContrastRows {
  /** mm */
  heights: number[];
  /** lp/mm */
  frequencies: number[];
  /** A row a height. */
  sagittal: number[][];
  meridional: number[][];
  /** The largest standard error in the table, and all of them, a row a height. */
  uncertainty: number;
  errors: number[][];
  /** Heights (mm) at which a direction has no edge of its own: the other one stands for it. */
  filled: { sagittal: number[]; meridional: number[] };
}

const MAX_ROWS = 9;
/** Edges within this share of the outermost one's distance are about the axis. */
const AXIS_SHARE = 0.1;
/** Contrast is tabulated up to this share of a pixel's own limit. */
const TO_NYQUIST = 0.9;
const STEP_LP_MM = 5;
const MAX_FREQUENCIES = 32;
/** A direction counts as seen at a height where the edges about it give it at least so much, out of one for each. */
const SEEN = 0.5;

/** Contrast that a pixel's own aperture leaves of a frequency (cycles/px) along a normal: a square of full fill. */
export function apertureAt(f: number, [nx, ny]: readonly [number, number]): number {
  const sinc = (t: number) => (t === 0 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t));
  return sinc(f * nx) * sinc(f * ny);
}

interface Weighed {
  height: number;
  /** Share of the radius in the edge's normal: 1 measures meridional contrast, 0 sagittal. */
  radial: number;
  contrast: number[];
  error: number[];
}

const frequenciesFor = (pitch: number): number[] => {
  const top = (TO_NYQUIST * 0.5) / pitch;
  const step = STEP_LP_MM * Math.max(1, Math.ceil(top / STEP_LP_MM / MAX_FREQUENCIES));
  return Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step);
};

function weighed(
  edge: FoundEdge,
  { axisX, axisY, pitch }: Place,
  axis: number,
  frequencies: number[],
  withoutAperture: boolean,
): Weighed {
  const [dx, dy] = [edge.x - axisX, edge.y - axisY];
  const away = Math.hypot(dx, dy);
  const { normal } = edge.response;
  // About the axis both directions are one.
  const radial = away < axis ? 0.5 : ((normal[0] * dx + normal[1] * dy) / away) ** 2;
  const own = (f: number) => (withoutAperture ? apertureAt(f, normal) : 1);
  const cycles = frequencies.map((f) => f * pitch);
  const errors = { frequencies: edge.response.frequencies, contrast: edge.uncertainty };
  return {
    height: away * pitch,
    radial,
    contrast: cycles.map((f) => contrastAt(edge.response, f) / own(f)),
    error: cycles.map((f) => contrastAt(errors, f) / own(f)),
  };
}

const MIN_ERROR = 1e-3;
/** Less contrast than this is lost in what a reading is sure of. */
const MIN_CONTRAST = 0.01;
/** Weight of the two directions being alike, and of their not changing with height, against that of all edges. */
const ALIKE = 1e-3;
const LEVEL = 1e-3;
/** A row hears edges this many rows' distances away, the nearer the more (tricube). */
const REACH = 1.5;

/**
 * Meridional and sagittal contrast at a height and one frequency: a straight line over height for each, by least
 * squares over the edges about it. What is fitted is the logarithm: softness adds up in it, so that every edge reads
 * cos² of one and sin² of the other, by its normal's angle to the radius, and it bends little from one height to the
 * next.
 */
function solved(all: Weighed[], height: number, apart: number, i: number) {
  const rows: number[][] = [];
  const values: number[] = [];
  const seen = { meridional: 0, sagittal: 0 };
  let weights = 0;
  for (const { height: own, radial, contrast, error } of all) {
    const distance = (own - height) / apart;
    const near = Math.max(0, 1 - Math.abs(distance / REACH) ** 3) ** 3;
    if (!near) continue;
    const seenContrast = Math.max(contrast[i]!, MIN_CONTRAST);
    const weight = near * (seenContrast / Math.max(MIN_ERROR, error[i]!)) ** 2;
    const root = Math.sqrt(weight);
    const terms = [radial, 1 - radial, radial * distance, (1 - radial) * distance];
    rows.push(terms.map((term) => root * term));
    values.push(root * Math.log(seenContrast));
    weights += weight;
    seen.meridional += near * radial;
    seen.sagittal += near * (1 - radial);
  }
  const [alike, level] = [Math.sqrt(ALIKE * weights), Math.sqrt(LEVEL * weights)];
  rows.push([alike, -alike, 0, 0], [0, 0, level, 0], [0, 0, 0, level]);
  const { solution } = leastSquares(rows, [...values, 0, 0, 0])!;
  const [m, s] = [Math.exp(solution[0]!), Math.exp(solution[1]!)];
  const squares = values.reduce((sum, value, k) => {
    const fitted = rows[k]!.reduce((all, term, j) => all + term * solution[j]!, 0);
    return sum + (value - fitted) ** 2;
  }, 0);
  // What the edges are unsure of themselves, or what they differ by from the lines, whichever is more.
  const own = 1 / Math.sqrt(weights);
  const differ = Math.sqrt((squares / weights) * (solution.length / values.length));
  return { meridional: m, sagittal: s, seen, error: Math.max(m, s) * Math.max(own, differ) };
}

/** Heights of the table: evenly from the axis, or the innermost edge, to the outermost. */
function heightsOf(all: Weighed[]): { heights: number[]; apart: number } {
  const sorted = all.map(({ height }) => height).sort((a, b) => a - b);
  const [first, last] = [sorted[0]!, sorted.at(-1)!];
  const count = Math.max(1, Math.min(MAX_ROWS, Math.round(Math.sqrt(all.length))));
  if (count === 1 || last - first < AXIS_SHARE * last)
    return { heights: [(first + last) / 2], apart: Math.max(1, last) };
  const from = first < AXIS_SHARE * last ? 0 : first;
  const apart = (last - from) / (count - 1);
  return { heights: Array.from({ length: count }, (_, g) => from + g * apart), apart };
}

const clamped = (contrast: number) => Number(Math.min(1.5, Math.max(0, contrast)).toFixed(4));

/**
 * The rows of contrast that edges come to. `withoutAperture`: the pixel's own share is divided out. Throws MeasureError
 * where no edge was measured.
 */
export function contrastRows(edges: FoundEdge[], place: Place, withoutAperture = false): ContrastRows {
  if (!edges.length) throw new MeasureError("No slanted edge was found that can be measured");
  const frequencies = frequenciesFor(place.pitch);
  const farthest = Math.max(...edges.map(({ x, y }) => Math.hypot(x - place.axisX, y - place.axisY)));
  const axis = Math.max(1, AXIS_SHARE * farthest);
  const all = edges.map((edge) => weighed(edge, place, axis, frequencies, withoutAperture));
  const { heights: exact, apart } = heightsOf(all);
  const heights = exact.map((height) => Number(height.toFixed(3)));
  const found = exact.map((height) => frequencies.map((_, i) => solved(all, height, apart, i)));
  const table = (direction: "sagittal" | "meridional") =>
    found.map((row) => row.map((one, i) => (i === 0 ? 1 : clamped(one[direction]))));
  const missing = (direction: "sagittal" | "meridional") =>
    heights.filter((height, g) => height > 0 && found[g]![0]!.seen[direction] < SEEN);
  return {
    heights,
    frequencies,
    sagittal: table("sagittal"),
    meridional: table("meridional"),
    uncertainty: Number(Math.max(...found.flat().map(({ error }) => error)).toFixed(4)),
    errors: found.map((row) => row.map(({ error }) => error)),
    filled: { sagittal: missing("sagittal"), meridional: missing("meridional") },
  };
}
