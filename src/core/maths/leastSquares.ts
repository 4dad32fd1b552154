import { cholesky, solveFactorised } from "./cholesky";

/** A column whose remainder falls below this share of its size says nothing the others do not. */
const DEPENDENT = 1e-12;

/**
 * Least squares by Cholesky's factors of the normal equations, columns scaled to one size. `rows[i]` holds the
 * coefficients of equation i. Returns the solution, each unknown's standard deviation (from the residual), and the
 * residual's root mean square; null where the equations do not settle every unknown.
 */
export function leastSquares(
  rows: readonly (readonly number[])[],
  b: readonly number[],
): { solution: number[]; deviations: number[]; residual: number } | null {
  const n = rows[0]?.length ?? 0;
  if (!n || rows.length < n) return null;
  const scale = Array.from({ length: n }, (_, k) => Math.sqrt(rows.reduce((sum, row) => sum + row[k]! ** 2, 0)));
  if (scale.some((size) => !(size > 0))) return null;
  const products = Array.from({ length: n }, () => new Float64Array(n));
  const moment = new Float64Array(n);
  rows.forEach((row, i) => {
    for (let k = 0; k < n; k++) {
      moment[k]! += (row[k]! / scale[k]!) * b[i]!;
      for (let l = 0; l <= k; l++) products[k]![l]! += (row[k]! / scale[k]!) * (row[l]! / scale[l]!);
    }
  });
  const factor = cholesky(products, DEPENDENT);
  if (!factor) return null;
  const solve = (right: ArrayLike<number>) => solveFactorised(factor, right);
  const scaled = solve(moment);
  const squares = rows.reduce(
    (sum, row, i) => sum + (b[i]! - row.reduce((s, value, k) => s + (value / scale[k]!) * scaled[k]!, 0)) ** 2,
    0,
  );
  const variance = squares / Math.max(1, rows.length - n);
  const unit = (k: number) => Float64Array.from({ length: n }, (_, i) => Number(i === k));
  return {
    solution: scaled.map((value, k) => value / scale[k]!),
    deviations: scale.map((size, k) => Math.sqrt(variance * solve(unit(k))[k]!) / size),
    residual: Math.sqrt(squares / rows.length),
  };
}
