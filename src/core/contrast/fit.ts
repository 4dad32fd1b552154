import { cholesky, solveFactorised } from "../maths/cholesky";
import { memoised, NOTHING } from "../maths/memoise";
import { to24Bits } from "../maths/precision";
import { memberTransfers, type PixelShape, secondDifference } from "./bank";

/** Frequencies the gains are fitted at, cycles/px: to a little beyond what is asked to be exact (0.4). */
const LAST_FREQUENCY = 0.42;
const SAMPLES = 42;
/** Keeps gains calm where the bank could do with either sign; small beside what is asked. */
const RIDGE = 4e-4;
/**
 * Directions of waves on the grid that are fitted together, so that the bank does as well along a diagonal as along an
 * axis.
 */
const ANGLES = [0, Math.PI / 8, Math.PI / 4];
/** On pixels that are not square waves along y are not those along x. */
const ALL_ANGLES = [...ANGLES, (3 * Math.PI) / 8, Math.PI / 2];
const SQUARE: PixelShape = { x: 1, y: 1 };

const frequencies = Array.from({ length: SAMPLES }, (_, i) => ((i + 1) * LAST_FREQUENCY) / SAMPLES);

/**
 * What the kernel adds up: gains of the bands and of the picture's own second differences, the same whichever way a
 * wave runs.
 */
export interface Gains {
  mean: number[];
  edge: number;
  /** Of each member's second differences, along the radius less across it. */
  half: number[];
}

/**
 * What each basis gives a wave of `f` cycles/px (of a pixel's shorter side) at an angle on the sensor; `half` for a
 * wave along the radius.
 */
function basesAt(f: number, angle: number, shape: PixelShape) {
  const [c, s] = [to24Bits(Math.cos(angle)), to24Bits(Math.sin(angle))];
  const [fx, fy] = [(f * c) / shape.x, (f * s) / shape.y];
  const across = memberTransfers(fy, shape.y);
  const [t0, t1, t2, t3, t4, reduced] = memberTransfers(fx, shape.x).map((value, k) => value * across[k]!) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const along = (cell: number) => shape.x ** 2 * secondDifference(cell * fx);
  const down = (cell: number) => shape.y ** 2 * secondDifference(cell * fy);
  // Of members at half size, differences are between cells two pixels apart.
  const turned = (cell: number) =>
    (c * c - s * s) * (along(cell) - down(cell)) +
    4 * c * s * shape.x * shape.y * Math.sin(2 * Math.PI * cell * fx) * Math.sin(2 * Math.PI * cell * fy);
  const [fine, coarse] = [turned(1), turned(2)];
  return {
    mean: [t0 - t1, t1 - t2, reduced - t3, t3 - t4, along(1) + down(1)],
    half: [fine * t0, fine * t1, fine * t2, coarse * t3, coarse * t4],
    // Coarse bands are made at half size as what they change: with every gain at 1 they add nothing.
    last: t2 - (reduced - t4),
  };
}

const isSquare = ({ x, y }: PixelShape) => Math.abs(x - y) < 1e-6;

/** The waves a grid of pixels can hold. */
function wavesOf(shape: PixelShape) {
  const highest = LAST_FREQUENCY * (1 + 1e-6);
  const isHeld = (f: number, angle: number) =>
    (f * Math.cos(angle)) / shape.x <= highest && (f * Math.sin(angle)) / shape.y <= highest;
  return (isSquare(shape) ? ANGLES : ALL_ANGLES).flatMap((angle) => {
    const constrained = frequencies.flatMap((f, i) => (isHeld(f, angle) ? [{ f, i }] : []));
    // Directions count alike, however few waves they hold.
    const weight = SAMPLES / constrained.length;
    return constrained.map(({ f, i }) => ({ i, weight, ...basesAt(f, angle, shape) }));
  });
}
const squareWaves = wavesOf(SQUARE);
const wavesByShape = memoised<ReturnType<typeof wavesOf>>(8);
const wavesFor = (shape: PixelShape) =>
  isSquare(shape) ? squareWaves : wavesByShape(NOTHING, `${shape.x} ${shape.y}`, () => wavesOf(shape));

/** Weighed least squares with a ridge towards `towards`. */
function leastSquares(rows: number[][], wanted: number[], weights: number[], towards: number[]): number[] {
  const n = towards.length;
  const matrix = towards.map((_, i) => towards.map((__, j) => (i === j ? RIDGE : 0)));
  const right = towards.map((value) => RIDGE * value);
  rows.forEach((row, s) => {
    for (let i = 0; i < n; i++) {
      const weighed = weights[s]! * row[i]!;
      right[i]! += weighed * wanted[s]!;
      for (let j = 0; j <= i; j++) matrix[i]![j]! += weighed * row[j]!;
    }
  });
  const factor = cholesky(matrix.map((row) => row.map(to24Bits)));
  if (!factor) throw new Error("Members of the bank are alike");
  return solveFactorised(factor, right.map(to24Bits));
}

/**
 * Gains with which the bank's summed transfer follows two targets: contrast against cycles/px (of a pixel's shorter
 * side), along the radius and across it.
 */
export function fitGains(
  meridional: (f: number) => number,
  sagittal: (f: number) => number,
  shape: PixelShape = SQUARE,
): Gains {
  const waves = wavesFor(shape);
  const weights = waves.map(({ weight }) => weight);
  const [m, s] = [frequencies.map(meridional), frequencies.map(sagittal)];
  const [a, b, c, d, edge] = leastSquares(
    waves.map(({ mean }) => mean),
    waves.map(({ i, last }) => to24Bits((m[i]! + s[i]!) / 2 - last)),
    weights,
    [1, 1, 1, 1, 0],
  ) as [number, number, number, number, number];
  const half = leastSquares(
    waves.map((wave) => wave.half),
    waves.map(({ i }) => to24Bits((m[i]! - s[i]!) / 2)),
    weights,
    [0, 0, 0, 0, 0],
  );
  return { mean: [a, b, c, d], edge, half };
}

/** The contrast that gains give a wave of `f` cycles/px. */
export function transferOf(
  { mean, edge, half }: Gains,
  f: number,
  direction: "meridional" | "sagittal",
  angle = 0,
  shape: PixelShape = SQUARE,
): number {
  const wave = basesAt(f, angle, shape);
  const sign = direction === "meridional" ? 1 : -1;
  return (
    [...mean, edge].reduce((sum, gain, k) => sum + gain * wave.mean[k]!, wave.last) +
    sign * half.reduce((sum, gain, k) => sum + gain * wave.half[k]!, 0)
  );
}
