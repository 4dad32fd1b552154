/** Follows a printed line from a place on it, by its colour and direction, over dashes and crossings. */
import { MeasureError } from "../plane";

/** A page as code values, 0 to 1, RGBA. */
export interface Page {
  width: number;
  height: number;
  data: ArrayLike<number>;
}

type Point = readonly [number, number];
type Colour = readonly [number, number, number];

/** The line is looked for this far from where it was pointed at, px. */
const NEAR = 4;
/** Ink differs from the paper by at least this, of black against white. */
const MIN_INK = 0.12;
/** A pixel whose colour is off the way from paper to ink by this share of the way is no ink of the line. */
const OFF_COLOUR = 0.4;
/** A pixel is of the line from this share of its ink on. */
const INK_FROM = 0.35;
/**
 * How far the line may be off where it is expected, px: while its way is not known yet, when it is, for each column
 * that was passed without it, and for its slope.
 */
const FIRST_WINDOW = 4.5;
const WINDOW = 1.2;
const WIDENS = 0.12;
const BY_SLOPE = 0.5;
/** Columns without ink after which the line has ended; a dash's gap is shorter. */
const MAX_GAP = 40;
/** Columns whose places say where the line goes on. */
const MEMORY = 24;
/** What a bend is held back by, px to the fourth power: a few columns alone do not bend the line. */
const BEND = 2e4;
/** A run of ink thicker than this many times the line is something that crosses it, and says nothing of the line. */
const CROSSING = 1.5;
/** One that is thinner than this share of the line is not of it. */
const FRAGMENT = 0.4;
/** The line's thickness is the middle one of so many columns to both sides of where it was pointed at. */
const SEEN_COLUMNS = 16;
/** It is followed from where it is as thick as that, within this share. */
const ALIKE = 0.3;

const colourAt = ({ width, data }: Page, x: number, y: number): Colour => {
  const at = (y * width + x) * 4;
  return [data[at]!, data[at + 1]!, data[at + 2]!];
};

/** The paper's colour: the middle of each channel over the page. */
function paperOf({ data }: Page): Colour {
  const step = 4 * Math.max(1, Math.floor(data.length / 4 / 20_000));
  const middle = (channel: number) => {
    const values: number[] = [];
    for (let i = channel; i < data.length; i += step) values.push(data[i]!);
    return values.sort((a, b) => a - b)[values.length >> 1]!;
  };
  return [middle(0), middle(1), middle(2)];
}

/** How much ink of the line a pixel holds, 0 to 1. */
function inkOf(page: Page, paper: Colour, ink: Colour) {
  const way = ink.map((value, c) => value - paper[c]!) as unknown as Colour;
  const length = Math.hypot(...way);
  return (x: number, y: number): number => {
    if (x < 0 || y < 0 || x >= page.width || y >= page.height) return 0;
    const off = colourAt(page, x, y).map((value, c) => value - paper[c]!);
    const share = off.reduce((sum, value, c) => sum + value * way[c]!, 0) / length ** 2;
    const aside = Math.hypot(...off.map((value, c) => value - share * way[c]!)) / length;
    return aside > OFF_COLOUR ? 0 : Math.min(1, Math.max(0, share));
  };
}

/** The line's ink: what differs most from the paper about a place, and where. */
function strongest(page: Page, paper: Colour, [px, py]: Point): { ink: Colour; x: number; y: number } {
  let best = { ink: paper, x: Math.round(px), y: Math.round(py), off: 0 };
  for (let y = Math.round(py) - NEAR; y <= Math.round(py) + NEAR; y++)
    for (let x = Math.round(px) - NEAR; x <= Math.round(px) + NEAR; x++) {
      if (x < 0 || y < 0 || x >= page.width || y >= page.height) continue;
      const ink = colourAt(page, x, y);
      // The nearer, the more it is meant.
      const far = Math.hypot(x - px, y - py) / (4 * NEAR);
      const off = Math.hypot(...ink.map((value, c) => value - paper[c]!)) * (1 - far);
      if (off > best.off) best = { ink, x, y, off };
    }
  if (best.off < MIN_INK)
    throw new MeasureError(`there is no line at ${Math.round(px)}, ${Math.round(py)} px of the page`);
  return best;
}

interface Run {
  y: number;
  thickness: number;
}

/** The runs of ink of a column between two rows, each with its middle by how much ink its pixels hold. */
function runsIn(ink: (x: number, y: number) => number, x: number, from: number, to: number): Run[] {
  const runs: Run[] = [];
  let [sum, moment, begins] = [0, 0, false];
  for (let y = Math.floor(from); y <= Math.ceil(to) + 1; y++) {
    const own = y > Math.ceil(to) ? 0 : ink(x, y);
    if (own >= INK_FROM || (begins && own > 0.05)) {
      sum += own;
      moment += own * y;
      begins = true;
    } else if (begins) {
      runs.push({ y: moment / sum, thickness: sum });
      [sum, moment, begins] = [0, 0, false];
    }
  }
  return runs;
}

/**
 * Where the line through the last places comes to at a column, and its slope there: a parabola by least squares, its
 * bend held back where few places, or noise, say little of it.
 */
function expected(places: Point[], x: number): { y: number; slope: number } {
  const last = places.slice(-MEMORY);
  const n = last.length;
  const [mx, my] = [last.reduce((s, [px]) => s + px, 0) / n, last.reduce((s, [, py]) => s + py, 0) / n];
  const moment = (of: (t: number, y: number) => number) => last.reduce((s, [px, py]) => s + of(px - mx, py - my), 0);
  const [t2, t3, t4] = [moment((t) => t * t), moment((t) => t ** 3), moment((t) => t ** 4)];
  if (!t2) return { y: my, slope: 0 };
  const [ty, t2y] = [moment((t, y) => t * y), moment((t, y) => t * t * y)];
  // y = a + b t + c (t² - mean of t²), with a penalty on c.
  const square = t4 - t2 ** 2 / n + BEND;
  const determinant = t2 * square - t3 * t3;
  const c = (t2 * t2y - t3 * ty) / determinant;
  const b = (ty - c * t3) / t2;
  const t = x - mx;
  return { y: my + b * t + c * (t * t - t2 / n), slope: b + 2 * c * t };
}

/** Follows the line one way from a place, a column a step. */
function oneWay(ink: (x: number, y: number) => number, start: Point, thickness: number, way: 1 | -1, width: number) {
  const places: Point[] = [start];
  let gap = 0;
  for (let x = start[0] + way; x >= 0 && x < width && gap < MAX_GAP; x += way) {
    const { y, slope } = expected(places, x);
    const isKnown = places.length >= MEMORY;
    const window = (isKnown ? WINDOW : FIRST_WINDOW) + WIDENS * gap + BY_SLOPE * Math.abs(slope);
    const reach = window + thickness / 2 + 1;
    const runs = runsIn(ink, x, y - reach, y + reach).filter(
      (run) =>
        run.thickness > FRAGMENT * thickness &&
        run.thickness < CROSSING * Math.max(thickness, 1) * Math.hypot(1, slope) &&
        Math.abs(run.y - y) <= window,
    );
    const nearest = runs.sort((a, b) => Math.abs(a.y - y) - Math.abs(b.y - y))[0];
    if (nearest) places.push([x, nearest.y]);
    gap = nearest ? 0 : gap + 1;
  }
  return places.slice(1);
}

/**
 * The places of a line (px of the page, from left to right) that lies at a place. Throws MeasureError where none does.
 */
export function followLine(page: Page, from: Point): Point[] {
  const paper = paperOf(page);
  const found = strongest(page, paper, from);
  const ink = inkOf(page, paper, found.ink);
  const columns = Array.from({ length: 2 * SEEN_COLUMNS + 1 }, (_, k) => found.x + k - SEEN_COLUMNS);
  const seen = columns.flatMap((x) =>
    runsIn(ink, x, found.y - 2 * NEAR, found.y + 2 * NEAR).map((run) => ({ ...run, x })),
  );
  const sorted = seen.map((run) => run.thickness).sort((a, b) => a - b);
  // Fragments of what else is there, a grid's above all, are thin; what crosses the line is thick.
  const whole = sorted.filter((own) => own > FRAGMENT * sorted[Math.floor(0.8 * sorted.length)]!);
  const thickness = whole[whole.length >> 1] ?? 0;
  const far = ({ x, y }: { x: number; y: number }) => Math.hypot(x - from[0], y - from[1]);
  const [first] = seen
    .filter((run) => Math.abs(run.thickness - thickness) < ALIKE * thickness)
    .sort((a, b) => far(a) - far(b));
  if (!first)
    throw new MeasureError(`there is no line at ${Math.round(from[0])}, ${Math.round(from[1])} px of the page`);
  const start: Point = [first.x, first.y];
  const [left, right] = ([-1, 1] as const).map((way) => oneWay(ink, start, thickness, way, page.width));
  return [...left!.reverse(), start, ...right!];
}
