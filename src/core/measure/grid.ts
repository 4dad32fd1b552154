import { leastSquares } from "../maths/leastSquares";
import {
  COEFFICIENTS,
  coefficientBasis,
  distorted,
  type DistortionModel,
  distortionOf,
  distortionTable,
} from "../profile/distortion";
import { centreOf, contrastOfDots, type Dot, findDots } from "./dots";
import { indexLattice } from "./lattice";
import { median, MeasureError, type Plane } from "./plane";

export interface GridChart {
  /** One channel each, in light. */
  planes: Record<"red" | "green" | "blue", Plane>;
  /** mm */
  pitchX: number;
  pitchY: number;
  /** The optical axis, px from the planes' top left pixel's centre. */
  axisX: number;
  axisY: number;
  focalLength: number;
  model: DistortionModel;
}

export interface GridDot {
  /** Centre in green, px from the top left pixel's centre. */
  x: number;
  y: number;
  /** Where the fitted model has it, px. */
  modelX: number;
  modelY: number;
  /**
   * Image height, mm, and how far red and blue lie further out than green, µm; not known where the dot is damaged in
   * them.
   */
  height: number;
  red: number | null;
  blue: number | null;
}

export interface GridMeasurement {
  dots: GridDot[];
  /** Dots that were found and do not fit: damaged ones. */
  leftOut: number;
  /** Root mean square of the dots' distances from the model, px. */
  residual: number;
  coefficients: Record<string, number>;
  /** Standard deviation of each. */
  deviations: Record<string, number>;
  lateral: { heights: number[]; red: number[]; blue: number[]; uncertainty: number[] };
}

/** Newton's steps, and rounds of leaving out what does not fit. */
const STEPS = 8;
const OUTLIER_ROUNDS = 3;
/** A dot is left out beyond this many standard deviations, but never within this many px. */
const OUTLIER = 5;
const OUTLIER_PX = 0.1;
const DEVIATION_OF_MAD = 1.4826;
/** Rings the lateral colour is averaged over, and the fewest dots in one. */
const RINGS = 8;
const FEWEST_IN_RING = 4;

interface Found {
  column: number;
  row: number;
  x: number;
  y: number;
  dot: Dot;
}

/**
 * The chart's place and the model's coefficients. The place is a homography: origin, a column's and a row's step, in
 * focal lengths, and how much further from the camera each column and row is, as a chart is never quite square to it.
 */
interface Fit {
  chart: number[];
  coefficients: number[];
  deviations: number[];
  residual: number;
}

/** Parameters of the chart's place. */
const PLACE = 8;

/** Where a dot of the undistorted chart lies, focal lengths, and its depth against the origin's. */
function imageOf(chart: number[], column: number, row: number): { x: number; y: number; depth: number } {
  const depth = 1 + chart[6]! * column + chart[7]! * row;
  return {
    x: (chart[0]! + chart[2]! * column + chart[4]! * row) / depth,
    y: (chart[1]! + chart[3]! * column + chart[5]! * row) / depth,
    depth,
  };
}

/**
 * Fits the chart's place and a distortion model together, by Gauss and Newton: what the lens does to an ideal grid that
 * may be turned, tilted, shifted and of any spacing. Scale is the chart's, so the model's first term is the third
 * power.
 */
function fit(found: Found[], toFocal: (x: number, y: number) => [number, number], model: GridChart["model"]): Fit {
  const basis = coefficientBasis(model);
  const target = found.map(({ x, y }) => toFocal(x, y));
  const affine = found.flatMap(({ column, row }) => [
    [1, 0, column, 0, row, 0],
    [0, 1, 0, column, 0, row],
  ]);
  const start = leastSquares(affine, target.flat())?.solution;
  if (!start) throw new MeasureError("The dots do not form a square grid");
  let chart = [...start, 0, 0];
  let coefficients = basis.map(() => 0);
  let [deviations, residual] = [coefficients, 0];
  for (let step = 0; step < STEPS; step++) {
    const lens = distortionOf(distortionTable(model, 1, coefficients));
    const rows: number[][] = [];
    const rest: number[] = [];
    found.forEach(({ column, row }, i) => {
      const { x, y, depth } = imageOf(chart, column, row);
      const h = 1e-5;
      const [at, right, below] = [distorted(lens, 1, x, y), distorted(lens, 1, x + h, y), distorted(lens, 1, x, y + h)];
      for (const axis of [0, 1] as const) {
        const [dx, dy] = [(right[axis] - at[axis]) / h / depth, (below[axis] - at[axis]) / h / depth];
        const away = -(dx * x + dy * y);
        rows.push([
          dx,
          dy,
          dx * column,
          dy * column,
          dx * row,
          dy * row,
          away * column,
          away * row,
          ...basis.map((one) => distorted(one, 1, x, y)[axis] - (axis ? y : x)),
        ]);
        rest.push(target[i]![axis] - at[axis]);
      }
    });
    const change = leastSquares(rows, rest);
    if (!change)
      throw new MeasureError(
        "There are too few dots, or they lie too near the axis, to tell the model’s coefficients apart",
      );
    chart = chart.map((value, k) => value + change.solution[k]!);
    coefficients = coefficients.map((value, k) => value + change.solution[PLACE + k]!);
    [deviations, residual] = [change.deviations.slice(PLACE), change.residual];
  }
  return { chart, coefficients, deviations, residual };
}

/**
 * Distortion and lateral colour from a picture of a grid of round dots, dark on light or light on dark. Throws
 * MeasureError.
 */
export function measureGrid({ planes, pitchX, pitchY, axisX, axisY, focalLength, model }: GridChart): GridMeasurement {
  const contrast = {
    red: contrastOfDots(planes.red),
    green: contrastOfDots(planes.green),
    blue: contrastOfDots(planes.blue),
  };
  const lattice = indexLattice(findDots(contrast.green), { x: axisX, y: axisY });
  let found = lattice.flatMap(({ dot, column, row }): Found[] => {
    const centre = centreOf(contrast.green, dot);
    return centre ? [{ ...centre, column, row, dot }] : [];
  });
  const all = found.length;
  const toFocal = (x: number, y: number): [number, number] => [
    ((x - axisX) * pitchX) / focalLength,
    ((y - axisY) * pitchY) / focalLength,
  ];
  let fitted = fit(found, toFocal, model);
  const placed = (): [number, number][] => {
    const lens = distortionOf(distortionTable(model, 1, fitted.coefficients));
    const { chart } = fitted;
    return found.map(({ column, row }) => {
      const dot = imageOf(chart, column, row);
      const [u, v] = distorted(lens, 1, dot.x, dot.y);
      return [(u * focalLength) / pitchX + axisX, (v * focalLength) / pitchY + axisY];
    });
  };
  let model2d = placed();
  for (let round = 0; round < OUTLIER_ROUNDS; round++) {
    const misses = found.map(({ x, y }, i) => Math.hypot(x - model2d[i]![0], y - model2d[i]![1]));
    const most = Math.max(OUTLIER_PX, OUTLIER * DEVIATION_OF_MAD * median(Float64Array.from(misses)));
    if (misses.every((miss) => miss <= most)) break;
    found = found.filter((_, i) => misses[i]! <= most);
    fitted = fit(found, toFocal, model);
    model2d = placed();
  }
  const dots = found.map(({ x, y, dot }, i): GridDot => {
    const [mx, my] = [(x - axisX) * pitchX, (y - axisY) * pitchY];
    const out = Math.hypot(mx, my);
    const further = (plane: Plane) => {
      const centre = centreOf(plane, { ...dot, x, y });
      return centre && out ? (1000 * ((centre.x - x) * pitchX * mx + (centre.y - y) * pitchY * my)) / out : null;
    };
    return {
      x,
      y,
      modelX: model2d[i]![0],
      modelY: model2d[i]![1],
      height: out,
      red: further(contrast.red),
      blue: further(contrast.blue),
    };
  });
  const keyed = (values: number[]) => Object.fromEntries(COEFFICIENTS[model].map((name, k) => [name, values[k]!]));
  return {
    dots,
    leftOut: all - dots.length,
    coefficients: keyed(fitted.coefficients),
    deviations: keyed(fitted.deviations),
    lateral: lateralOf(dots),
    residual: Math.sqrt(
      dots.reduce((sum, { x, y, modelX, modelY }) => sum + (x - modelX) ** 2 + (y - modelY) ** 2, 0) / dots.length,
    ),
  };
}

/** Lateral colour by image height: middle values over rings, 0 on the axis, where there can be none. */
function lateralOf(dots: GridDot[]): GridMeasurement["lateral"] {
  const corner = Math.max(...dots.map(({ height }) => height));
  const out: GridMeasurement["lateral"] = { heights: [0], red: [0], blue: [0], uncertainty: [0] };
  for (let ring = 0; ring < RINGS; ring++) {
    const within = dots.filter(
      ({ height, red, blue }) =>
        red !== null && blue !== null && height > (corner * ring) / RINGS && height <= (corner * (ring + 1)) / RINGS,
    );
    if (within.length < FEWEST_IN_RING) continue;
    // Around the ring's middle displacement goes with height; each dot is brought there before the middle is taken.
    const mean = within.reduce((sum, { height }) => sum + height, 0) / within.length;
    const brought = (channel: "red" | "blue") =>
      Float64Array.from(within, (dot) => (dot[channel]! * mean) / dot.height);
    const [red, blue] = [brought("red"), brought("blue")];
    const [middleRed, middleBlue] = [median(red), median(blue)];
    const deviation =
      DEVIATION_OF_MAD *
      Math.max(median(red.map((v) => Math.abs(v - middleRed))), median(blue.map((v) => Math.abs(v - middleBlue))));
    out.heights.push(mean);
    out.red.push(middleRed);
    out.blue.push(middleBlue);
    out.uncertainty.push(deviation / Math.sqrt(within.length));
  }
  return out;
}
