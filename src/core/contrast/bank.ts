import { to24Bits } from "../maths/precision";
import { blurTaps } from "../spread/bank";

/**
 * The bank that contrast by frequency is made of: the picture, and four blurs of it. Two are at full size, one at half
 * and one at a quarter. Wide blurs take two more, at an eighth and a sixteenth. Their transfer functions follow from
 * the very filters that are applied (assembly/convolve.ts).
 */

/**
 * Variance each blur adds in its own cells (px², half-size cells², quarter-size cells²), along a pixel's shorter side.
 */
const FIRST = 0.5;
const SECOND = 1;
const THIRD = 1;
const FOURTH = 0.875;
/**
 * A Gaussian's samples, two a side: rounder than a binomial where waves are short. The tenth left out at a variance of
 * 1 is little.
 */
function fiveTaps(variance: number): number[] {
  const raw = [0, 1, 2].map((i) => to24Bits(Math.exp((-i * i) / (2 * variance))));
  const sum = raw[0]! + 2 * (raw[1]! + raw[2]!);
  return [...raw.map((tap) => tap / sum), 0, 0];
}

const FEW_TAPS_UP_TO = 1;
export const tapsOf = (variance: number) => (variance <= FEW_TAPS_UP_TO ? fiveTaps(variance) : blurTaps(variance));

const blurs = [FIRST, SECOND, THIRD, FOURTH];
/** Variance of a blur along a direction, its cells²; `density`: as in `PixelShape`, of that direction. */
export const blurVariance = (index: number, density = 1) => blurs[index]! * density ** 2;

/** A pixel's shape: px along x and along y for one of its shorter side, 1 for that one, less for the other. */
export interface PixelShape {
  x: number;
  y: number;
}

/** Pixels for a length of a pixel's shorter side (mm), which contrast is counted in. */
export const pixelShape = ({ pitchX, pitchY }: { pitchX: number; pitchY: number }): PixelShape & { unit: number } => {
  const unit = Math.min(pitchX, pitchY);
  return { x: unit / pitchX, y: unit / pitchY, unit };
};

const transfer = (taps: number[], f: number) =>
  taps.reduce((sum, tap, i) => sum + (i ? 2 : 1) * tap * Math.cos(2 * Math.PI * f * i), 0);
/** Of the reducing filter [1 5 10 10 5 1]/32, and of expanding, its transpose. */
const halving = (f: number) => Math.cos(Math.PI * f) ** 5;

/**
 * What is left of a wave of `f` cycles/px along a direction in each member, and in the third one reduced to half size
 * and expanded again. `density`: as in `PixelShape`, of that direction.
 */
export function memberTransfers(f: number, density = 1): [number, number, number, number, number, number] {
  const left = (index: number, at: number) => transfer(tapsOf(blurVariance(index, density)), at);
  const [t1, t2] = [left(0, f), left(0, f) * left(1, f)];
  const half = halving(f) * left(2, 2 * f);
  const t3 = t2 * half * halving(f);
  const t4 = t2 * half * halving(2 * f) ** 2 * left(3, 4 * f) * halving(f);
  return [1, t1, t2, t3, t4, t2 * halving(f) ** 2];
}

/** Variance of what is left of a point in each member, px² along y; the last two are the wide bank's. */
export const memberVariances: readonly number[] = (() => {
  const small = 1e-3;
  const variance = (left: number) => -Math.log(left) / (2 * (Math.PI * small) ** 2);
  const [m0, m1, m2, m3, m4] = memberTransfers(small).slice(0, 5).map(variance) as [
    number,
    number,
    number,
    number,
    number,
  ];
  // Each further member: reduced once more, blurred there, and expanded.
  const further = (cell: number) => variance(halving(cell * small) ** 2 * transfer(tapsOf(FOURTH), 2 * cell * small));
  return [m0, m1, m2, m3, m4, m4 + further(4), m4 + further(4) + further(8)];
})();

/** What the second difference of a wave of `f` cycles/px is, over the wave, with its sign turned. */
export const secondDifference = (f: number) => 4 * Math.sin(Math.PI * f) ** 2;
