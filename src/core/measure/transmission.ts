/** Transmission by wavelength from an even field, without the glass and with it: as smooth as three channels can say. */
import { transmissionMatrix } from "../colour/spectrum";
import { leastSquares } from "../maths/leastSquares";
import { apply } from "../maths/matrix";
import type { Chart } from "./chart";
import { MeasureError, middleOf, type Plane } from "./plane";

export interface TransmissionTable {
  /** nm */
  wavelengths: number[];
  /** Share of the light. */
  values: number[];
  /** Standard error of the shares. */
  uncertainty: number;
}

/** The field is read in the middle of the frame, this share of its sides: the fall-off is alike in both frames there. */
const MIDDLE = 0.2;
/** Wavelengths of the table. */
const WAVELENGTHS = Array.from({ length: 16 }, (_, i) => 400 + 20 * i);
/** The logarithm of the transmission is a parabola of the distance from here, in so many nm. */
const [PIVOT, UNIT] = [550, 150];
const STEPS = 30;
const CLOSE = 1e-10;
/** No glass lets more through than there is; exposures differ by no more than this. */
const MAX_SHARE = 1.2;
const DECIMALS = 5;
/** What steps of 12 bits and half floats leave of error in a mean of one level, as a share. */
const SYSTEMATIC = 3e-4;

function middleLight({ width, height, data }: Plane) {
  const [w, h] = [width, height].map((side) => Math.max(1, Math.round(side * MIDDLE))) as [number, number];
  const [left, top] = [(width - w) >> 1, (height - h) >> 1];
  return middleOf(
    Float64Array.from({ length: w * h }, (_, i) => data[(top + Math.floor(i / w)) * width + left + (i % w)]!),
  );
}

const curve =
  ([a, b, c]: readonly number[]) =>
  (nm: number) => {
    const u = (nm - PIVOT) / UNIT;
    return Math.exp(a! + b! * u + c! * u * u);
  };

/** The smooth curve that dims white's three channels by these shares: Newton's method. */
function curveThrough(shares: readonly number[]): (nm: number) => number {
  let terms = [0, 0, 0];
  const logs = (of: readonly number[]) => apply(transmissionMatrix(curve(of)), [1, 1, 1]).map(Math.log);
  for (let step = 0; step < STEPS; step++) {
    const at = logs(terms);
    const rest = shares.map((share, i) => Math.log(share) - at[i]!);
    if (Math.max(...rest.map(Math.abs)) < CLOSE) return curve(terms);
    const h = 1e-5;
    const slopes = terms.map((_, k) => {
      const moved = logs(terms.map((value, l) => value + (k === l ? h : 0)));
      return moved.map((value, i) => (value - at[i]!) / h);
    });
    const change = leastSquares(
      rest.map((_, i) => slopes.map((slope) => slope[i]!)),
      rest,
    );
    if (!change || !change.solution.every(Number.isFinite)) break;
    terms = terms.map((value, k) => value + change.solution[k]!);
  }
  throw new MeasureError("the glass's colour is too strong for a smooth curve through three channels");
}

/** Two frames of one even field, of one exposure. Throws MeasureError. */
export function measureTransmission(without: Chart, withGlass: Chart): TransmissionTable {
  const read = (["red", "green", "blue"] as const).map((channel) => {
    const [bare, dimmed] = [without, withGlass].map(({ channels }) => middleLight(channels[channel]));
    if (!(bare!.value > 0 && dimmed!.value > 0)) throw new MeasureError("the middle of a frame is black");
    const share = dimmed!.value / bare!.value;
    return { share, error: share * Math.hypot(bare!.error / bare!.value, dimmed!.error / dimmed!.value) };
  });
  const most = Math.max(...read.map(({ share }) => share));
  if (most > MAX_SHARE)
    throw new MeasureError(
      `${most.toFixed(2)} times as much light comes with the glass as without it; shoot both at one exposure, and name them in that order`,
    );
  const through = curveThrough(read.map(({ share }) => share));
  const values = WAVELENGTHS.map((nm) => Number(through(nm).toFixed(DECIMALS)));
  return {
    wavelengths: WAVELENGTHS,
    values: values.map((value) => Math.min(MAX_SHARE, value)),
    uncertainty: Number(Math.hypot(SYSTEMATIC, ...read.map(({ error }) => error)).toPrecision(2)),
  };
}
