import { cholesky, solveFactorised } from "./cholesky";

const RIDGE = 1e-12;

/** Solves with a ridge that keeps rounding from making the matrix singular. */
function solve(a: number[][], b: number[]): number[] {
  const factor = cholesky(a.map((row, i) => row.map((value, j) => (i === j ? value * (1 + RIDGE) : value))));
  if (!factor) throw new Error("Columns are alike");
  return solveFactorised(factor, b);
}

const dot = (u: readonly number[], v: readonly number[]) => u.reduce((sum, x, i) => sum + x * v[i]!, 0);

/**
 * Non-negative least squares (Lawson and Hanson, 1974, ch. 23): the w >= 0 that minimises |A w - b|. `columns` are
 * those of A.
 */
export const nonNegativeLeastSquares = (columns: number[][], b: number[]): number[] =>
  nonNegativeSolution(
    columns.map((u) => columns.map((v) => dot(u, v))),
    columns.map((u) => dot(u, b)),
  );

/** The same by the normal equations: `gram` is A'A, positive; `right` is A'b. */
export function nonNegativeSolution(gram: number[][], right: number[]): number[] {
  const n = right.length;
  const w = new Array<number>(n).fill(0);
  const passive = new Set<number>();
  for (let round = 0; round < 3 * n; round++) {
    const gradient = right.map((value, i) => value - dot(gram[i]!, w));
    let best = -1;
    for (let i = 0; i < n; i++)
      if (
        !passive.has(i) &&
        gradient[i]! > 1e-10 * Math.abs(right[i]!) &&
        (best < 0 || gradient[i]! / Math.sqrt(gram[i]![i]!) > gradient[best]! / Math.sqrt(gram[best]![best]!))
      )
        best = i;
    if (best < 0) break;
    passive.add(best);
    for (;;) {
      const set = [...passive];
      const solution = solve(
        set.map((i) => set.map((j) => gram[i]![j]!)),
        set.map((i) => right[i]!),
      );
      const failing = set.filter((_, k) => solution[k]! <= 0);
      if (!failing.length) {
        w.fill(0);
        set.forEach((i, k) => (w[i] = solution[k]!));
        break;
      }
      let step = 1;
      set.forEach((i, k) => {
        if (solution[k]! <= 0) step = Math.min(step, w[i]! / (w[i]! - solution[k]!));
      });
      set.forEach((i, k) => {
        w[i] = w[i]! + step * (solution[k]! - w[i]!);
        if (w[i]! <= 1e-15) {
          w[i] = 0;
          passive.delete(i);
        }
      });
      if (!passive.size) break;
    }
  }
  return w;
}
