/** The tables of a lens profile that a printed chart's curves come to. */
import { leastSquares } from "../../maths/leastSquares";
import { monotoneCubic } from "../../maths/interpolate";
import type { PrintedCurve, PrintedSpec, ReadCurve } from "./spec";

type Read = PrintedCurve & ReadCurve;

const HOW = "read from a printed chart";
const DEFAULT_FOCAL = 50;
const DEFAULT_STOP = 2.8;
/** Heights a table of contrast is given at, at most. */
const MAX_HEIGHTS = 24;
/** Frequencies that are filled in, lp/mm, up to this many times the highest that was printed. */
const FILLED = [5, 10, 20, 30, 40, 50, 60, 80, 100];
const FILL_BEYOND = 1.5;

const rounded = (value: number) => Number(value.toPrecision(5));

/** Values as shares of one: what is printed in % is above 2, stops are 0 and less. */
function sharesOf({ y, unit, quantity }: Read): number[] {
  const most = Math.max(...y);
  const isStops = unit === "stops" || (!unit && quantity === "illumination" && most <= 0.05);
  const isPercent = unit === "%" || (!unit && !isStops && most > 2);
  return y.map((value) => (isStops ? 2 ** value : isPercent ? value / 100 : value));
}

/** What a printed unit of contrast is worth as a share. */
const scaleOf = (curve: Read): number => (Math.max(...sharesOf(curve)) < Math.max(...curve.y) ? 0.01 : 1);

/** A sum of two Gaussians of the frequency: `share` of a narrow one, the rest of one `ratio` times as wide. */
const model = (f: number, share: number, narrow: number, ratio: number) =>
  share * Math.exp(-((f / narrow) ** 2)) + (1 - share) * Math.exp(-((f / (narrow * ratio)) ** 2));

/** Shares and ratios that are tried, and widths of the narrow Gaussian, against the highest frequency. */
const SHARES = Array.from({ length: 11 }, (_, i) => i / 10);
const RATIOS = Array.from({ length: 11 }, (_, i) => 1 + i / 2);
const [LEAST_WIDTH, MOST_WIDTH, WIDTHS] = [0.1, 12, 24];
const GOLDEN = (Math.sqrt(5) - 1) / 2;
const HALVINGS = 24;

/** The width at which a shape of two Gaussians comes nearest to contrasts, and what is left, squared. */
function nearestWidth(
  frequencies: readonly number[],
  contrast: readonly number[],
  share: number,
  ratio: number,
): { narrow: number; error: number } {
  const top = frequencies.at(-1)!;
  const errorOf = (log: number) =>
    frequencies.reduce((sum, f, i) => sum + (model(f, share, Math.exp(log), ratio) - contrast[i]!) ** 2, 0);
  const step = Math.log(MOST_WIDTH / LEAST_WIDTH) / WIDTHS;
  const logs = Array.from({ length: WIDTHS + 1 }, (_, i) => Math.log(LEAST_WIDTH * top) + i * step);
  const best = logs.reduce((a, b) => (errorOf(b) < errorOf(a) ? b : a));
  let [low, high] = [best - step, best + step];
  for (let i = 0; i < HALVINGS; i++) {
    const [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
    if (errorOf(a) < errorOf(b)) high = b;
    else low = a;
  }
  const log = (low + high) / 2;
  return { narrow: Math.exp(log), error: errorOf(log) };
}

/**
 * Contrast at any frequency from that at a few, for several image heights: a sum of two Gaussians, and from it what
 * carries it through each of those that were printed. The two have one shape at all heights, which a few frequencies at
 * one height would not settle; their width is each height's own.
 */
export function betweenPrinted(
  frequencies: readonly number[],
  heights: readonly (readonly number[])[],
): ((f: number) => number)[] {
  const top = frequencies.at(-1)!;
  let best = { error: Infinity, share: 0, ratio: 1, narrow: [] as number[] };
  for (const share of SHARES)
    for (const ratio of RATIOS) {
      const found = heights.map((contrast) => nearestWidth(frequencies, contrast, share, ratio));
      const error = found.reduce((sum, one) => sum + one.error, 0);
      if (error < best.error) best = { error, share, ratio, narrow: found.map(({ narrow }) => narrow) };
    }
  return heights.map((contrast, i) => {
    const own = (f: number) => model(f, best.share, best.narrow[i]!, best.ratio);
    const rest = frequencies.map((f, k) => contrast[k]! - own(f));
    const carried = monotoneCubic([0, ...frequencies, 3 * top], [0, ...rest, 0]);
    return (f) => Math.max(0, f === 0 ? 1 : own(f) + (f < 3 * top ? carried(f) : 0));
  });
}

/** A row of `mtf` from the curves of one focal length and stop. */
function contrastTable(curves: Read[]): object {
  const { focalLength = DEFAULT_FOCAL, stop = DEFAULT_STOP } = curves[0]!;
  const printed = [...new Set(curves.map(({ frequency }) => frequency!))].sort((a, b) => a - b);
  // Every height that some curve of each frequency reaches.
  const reached = printed.map((f) => curves.filter(({ frequency }) => frequency === f));
  const from = Math.max(...reached.map((own) => Math.min(...own.map(({ x }) => x[0]!))));
  const to = Math.min(...reached.map((own) => Math.max(...own.map(({ x }) => x.at(-1)!))));
  const count = Math.min(MAX_HEIGHTS, Math.max(2, ...curves.map(({ x }) => x.length)));
  const heights = Array.from({ length: count }, (_, i) => Math.max(0, from + ((to - from) * i) / (count - 1)));
  const filled = FILLED.filter((f) => f < FILL_BEYOND * printed.at(-1)! && !printed.includes(f));
  const frequencies = [0, ...printed, ...filled].sort((a, b) => a - b);
  const printedAt = (direction: "sagittal" | "meridional", height: number) =>
    printed.map((frequency) => {
      const own = curves.filter((curve) => curve.frequency === frequency);
      // Where a direction's line runs into the other's, or was not printed, the other one stands for it.
      const covers = own.filter(({ x }) => height >= x[0]! && height <= x.at(-1)!);
      const of = (some: Read[]) => some.find((one) => one.direction === direction);
      const curve = of(covers) ?? covers[0] ?? of(own) ?? own[0]!;
      return monotoneCubic(curve.x, sharesOf(curve))(height);
    });
  const table = (direction: "sagittal" | "meridional") => {
    const between = betweenPrinted(
      printed,
      heights.map((height) => printedAt(direction, height)),
    );
    return between.map((of) => frequencies.map((f) => rounded(Math.min(1.5, of(f)))));
  };
  const computed = filled.length
    ? `; ${filled.join(", ")} lp/mm were not printed and are computed, by a sum of two Gaussians`
    : "";
  return {
    focalLength,
    stop,
    heights: heights.map(rounded),
    frequencies,
    sagittal: table("sagittal"),
    meridional: table("meridional"),
    origin: { kind: "measured", how: `${HOW}, at ${printed.join(", ")} lp/mm${computed}` },
    uncertainty: rounded(Math.max(...curves.flatMap((curve) => curve.uncertainty.map((own) => own * scaleOf(curve))))),
  };
}

/** A row of `distortion`: k1 and k2 of what an image height grows by, %. */
function distortionTable({ x, y, focalLength }: Read): object {
  const rows = x.map((height) => [(height / focalLength!) ** 2, (height / focalLength!) ** 4]);
  const found = leastSquares(
    rows,
    y.map((percent) => percent / 100),
  );
  const [k1, k2] = found?.solution ?? [0, 0];
  return {
    focalLength,
    model: "radial-tangential",
    coefficients: { k1: rounded(k1!), k2: rounded(k2!), k3: 0, p1: 0, p2: 0 },
    origin: { kind: "measured", how: `${HOW}, in % of the image height` },
  };
}

/** A lens profile of a page's curves. `read`: one for each of the spec's, in order. */
export function profileOf(
  { id = "printed", name = "From a printed chart", curves }: PrintedSpec,
  read: ReadCurve[],
): object {
  const all = curves.map((curve, i): Read => ({ ...curve, ...read[i]! }));
  const of = (quantity: PrintedCurve["quantity"]) => all.filter((curve) => curve.quantity === quantity);
  const glassOf = ({ focalLength, stop }: Read) => `${focalLength} ${stop}`;
  const groups = [...new Set(of("contrast").map(glassOf))].map((glass) =>
    of("contrast").filter((curve) => glassOf(curve) === glass),
  );
  const illumination = of("illumination").map((curve) => ({
    focalLength: curve.focalLength ?? DEFAULT_FOCAL,
    stop: curve.stop ?? DEFAULT_STOP,
    heights: curve.x.map((height) => rounded(Math.max(0, height))),
    relative: sharesOf(curve).map((share) => rounded(Math.min(2, Math.max(0.001, share)))),
    origin: { kind: "measured", how: HOW },
  }));
  const transmission = of("transmission")[0];
  const tables = {
    mtf: groups.map(contrastTable),
    illumination,
    distortion: of("distortion").map(distortionTable),
  };
  return {
    format: "pale-halo-lens",
    version: 1,
    id,
    name,
    ...Object.fromEntries(Object.entries(tables).filter(([, list]) => list.length)),
    ...(transmission
      ? {
          transmission: {
            wavelengths: transmission.x.map(rounded),
            values: sharesOf(transmission).map((share) => rounded(Math.min(1.2, Math.max(0, share)))),
            origin: { kind: "measured", how: HOW },
          },
        }
      : {}),
  };
}
