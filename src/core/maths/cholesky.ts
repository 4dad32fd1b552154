/**
 * Cholesky's factor of a symmetric positive matrix: the lower triangle, row by row. Null where a column's remainder is
 * not above `least`: it says nothing the columns before it do not.
 */
export function cholesky(matrix: readonly ArrayLike<number>[], least = 0): number[][] | null {
  const factor = matrix.map(() => new Array<number>(matrix.length).fill(0));
  for (let k = 0; k < matrix.length; k++) {
    for (let l = 0; l <= k; l++) {
      let sum = matrix[k]![l]!;
      for (let m = 0; m < l; m++) sum -= factor[k]![m]! * factor[l]![m]!;
      if (k === l && !(sum > least)) return null;
      factor[k]![l] = k === l ? Math.sqrt(sum) : sum / factor[l]![l]!;
    }
  }
  return factor;
}

/** The solution of a system whose matrix was factorised, for a right-hand side. */
export function solveFactorised(factor: readonly (readonly number[])[], right: ArrayLike<number>): number[] {
  const x = Array.from(right);
  for (let k = 0; k < x.length; k++) {
    for (let m = 0; m < k; m++) x[k]! -= factor[k]![m]! * x[m]!;
    x[k]! /= factor[k]![k]!;
  }
  for (let k = x.length - 1; k >= 0; k--) {
    for (let m = k + 1; m < x.length; m++) x[k]! -= factor[m]![k]! * x[m]!;
    x[k]! /= factor[k]![k]!;
  }
  return x;
}
