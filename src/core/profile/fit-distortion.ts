/** A model of distortion through places that are known both before and after it. */
import { leastSquares } from "../maths/leastSquares";
import { coefficientBasis, distorted, type DistortionModel, distortionTable, type DistortionTable } from "./distortion";

/** A place on the ideal picture and where the lens draws it, focal lengths from the axis. */
export interface PlacePair {
  ideal: readonly [number, number];
  drawn: readonly [number, number];
}

export interface FittedDistortion {
  table: DistortionTable;
  /** Root mean square distance of the places from the model, focal lengths. */
  residual: number;
}

/** Least squares of one model; null where the places do not settle its coefficients. */
export function fitDistortion(
  pairs: readonly PlacePair[],
  model: DistortionModel,
  focalLength: number,
): FittedDistortion | null {
  const basis = coefficientBasis(model);
  const rows = pairs.flatMap(({ ideal: [x, y] }) => {
    const moved = basis.map((one) => distorted(one, 1, x, y));
    return [moved.map((at) => at[0] - x), moved.map((at) => at[1] - y)];
  });
  const rest = pairs.flatMap(({ ideal, drawn }) => [drawn[0] - ideal[0], drawn[1] - ideal[1]]);
  const found = leastSquares(rows, rest);
  if (!found) return null;
  return { table: distortionTable(model, focalLength, found.solution), residual: found.residual * Math.SQRT2 };
}

/** The model of more coefficients is taken where it leaves less than this share of the simpler one's residual. */
const WORTH_MORE = 0.8;
/** Residuals below this, focal lengths, are as good as none: a thousandth of a pixel. */
const EXACT = 1e-7;

/** The model that places bear out: radial and tangential, unless the anamorphic one leaves clearly less. */
export function bestDistortion(pairs: readonly PlacePair[], focalLength: number): FittedDistortion | null {
  const round = fitDistortion(pairs, "radial-tangential", focalLength);
  if (round && round.residual < EXACT) return round;
  const squeezed = fitDistortion(pairs, "anamorphic", focalLength);
  if (!round || !squeezed) return round ?? squeezed;
  return squeezed.residual < WORTH_MORE * round.residual ? squeezed : round;
}
