import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import { cholesky, solveFactorised } from "./cholesky";
import { leastSquares } from "./leastSquares";
import { apply, IDENTITY, invert, type Matrix3, multiply } from "./matrix";
import { smoothNoise, steppedNoise } from "./noise";
import { to24Bits } from "./precision";

const entry = fc.double({ min: -10, max: 10, noNaN: true });

describe("least squares", () => {
  test("find what exact measurements were made of, with nothing left over", () => {
    fc.assert(
      fc.property(fc.tuple(entry, entry, entry), fc.integer({ min: 1, max: 1e6 }), (wanted, seed) => {
        const random = numbers(seed);
        const rows = Array.from({ length: 12 }, () => [1, random() * 4 - 2, random() * 300]);
        const b = rows.map((row) => row.reduce((sum, value, k) => sum + value * wanted[k]!, 0));
        const found = leastSquares(rows, b)!;
        found.solution.forEach((value, k) => expect(Math.abs(value - wanted[k]!)).toBeLessThan(1e-6));
        expect(found.residual).toBeLessThan(1e-6);
      }),
    );
  });
  test("of noisy measurements give deviations that the truth lies within, about as often as it should", () => {
    const random = numbers(11);
    /** Nearly normal, of a variance of 1: a sum of twelve. */
    const normal = () => Array.from({ length: 12 }, random).reduce((a, b) => a + b) - 6;
    let within = 0;
    const trials = 300;
    for (let i = 0; i < trials; i++) {
      const rows = Array.from({ length: 30 }, (_, k) => [1, k / 10]);
      const b = rows.map(([, x]) => 2 - 0.7 * x! + 0.05 * normal());
      const { solution, deviations } = leastSquares(rows, b)!;
      if (Math.abs(solution[1]! + 0.7) < deviations[1]!) within++;
    }
    // One standard deviation holds 68 % of a normal distribution.
    expect(within / trials).toBeGreaterThan(0.6);
    expect(within / trials).toBeLessThan(0.76);
  });
  test("say that they settle nothing where two columns say the same, one says nothing, or there are too few", () => {
    expect(
      leastSquares(
        [
          [1, 2],
          [2, 4],
          [3, 6],
        ],
        [1, 2, 3],
      ),
    ).toBeNull();
    expect(
      leastSquares(
        [
          [1, 0],
          [2, 0],
        ],
        [1, 2],
      ),
    ).toBeNull();
    expect(leastSquares([[1, 2]], [1])).toBeNull();
    expect(leastSquares([], [])).toBeNull();
  });
  test("a symmetric positive matrix times its solution is the right-hand side; one that is not positive has no factor", () => {
    const matrix = [
      [4, 1, 0.5],
      [1, 3, -0.2],
      [0.5, -0.2, 2],
    ];
    const x = solveFactorised(cholesky(matrix)!, [1, 2, 3]);
    matrix.forEach((row, i) => expect(row.reduce((sum, value, k) => sum + value * x[k]!, 0)).toBeCloseTo(i + 1, 12));
    expect(
      cholesky([
        [1, 2],
        [2, 1],
      ]),
    ).toBeNull();
  });
});

describe("matrices of colours", () => {
  const matrix = fc.tuple(...Array.from({ length: 9 }, () => entry)).map((values) => values as unknown as Matrix3);
  test("an inverse undoes what it is of, wherever there is one", () => {
    fc.assert(
      fc.property(matrix, fc.tuple(entry, entry, entry), (m, colour) => {
        const [a, b, c, d, e, f, g, h, i] = m;
        const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
        if (Math.abs(det) < 1) return;
        apply(invert(m), apply(m, colour)).forEach((value, k) =>
          expect(Math.abs(value - colour[k]!)).toBeLessThan(1e-6),
        );
        multiply(m, invert(m)).forEach((value, k) => expect(Math.abs(value - IDENTITY[k]!)).toBeLessThan(1e-6));
      }),
    );
  });
  test("one after the other is their product; one that flattens colours has no inverse", () => {
    const [a, b] = [
      [1, 2, 0, 0, 1, 1, 3, 0, 1],
      [0.5, 0, 1, 1, 1, 0, 0, 2, 1],
    ] as unknown as [Matrix3, Matrix3];
    expect(apply(multiply(a, b), [1, 2, 3])).toEqual(apply(a, apply(b, [1, 2, 3])));
    expect(() => invert([1, 2, 3, 2, 4, 6, 0, 0, 1])).toThrow("The matrix has no inverse");
  });
});

describe("repeatable noise", () => {
  test("is the same for the same seed and place, and lies from -1 to 1", () => {
    fc.assert(
      fc.property(fc.integer(), fc.double({ min: -1e6, max: 1e6, noNaN: true }), (seed, place) => {
        expect(smoothNoise(seed, place)).toBe(smoothNoise(seed, place));
        for (const value of [smoothNoise(seed, place), steppedNoise(seed, place)])
          expect(Math.abs(value)).toBeLessThanOrEqual(1);
      }),
    );
  });
  test("is centred and spread evenly, does not know its neighbour, and differs by seed", () => {
    const run = (seed: number) => Array.from({ length: 4000 }, (_, i) => steppedNoise(seed, i));
    const [one, other] = [run(1), run(2)];
    const mean = (values: number[]) => values.reduce((a, b) => a + b) / values.length;
    expect(Math.abs(mean(one))).toBeLessThan(0.05);
    // Of an even spread from -1 to 1 the mean square is a third.
    expect(mean(one.map((value) => value ** 2))).toBeCloseTo(1 / 3, 1);
    const together = (a: number[], b: number[]) => mean(a.map((value, i) => value * b[i]!)) * 3;
    expect(Math.abs(together(one.slice(1), one.slice(0, -1)))).toBeLessThan(0.06);
    expect(Math.abs(together(one, other))).toBeLessThan(0.06);
  });
  test("smooth, it runs through the steps and has no jump between them", () => {
    for (let i = -3; i < 4; i++) {
      expect(smoothNoise(9, i)).toBe(steppedNoise(9, i));
      expect(Math.abs(smoothNoise(9, i + 1e-6) - smoothNoise(9, i - 1e-6))).toBeLessThan(1e-5);
    }
  });
});

test("a number made steady keeps 24 bits of itself: nearer than one part in sixteen million, and no further change", () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-30, max: 1e9, noNaN: true }), fc.constantFrom(1, -1), (size, sign) => {
      const x = size * sign;
      expect(Math.abs(to24Bits(x) - x)).toBeLessThanOrEqual(Math.abs(x) * 2 ** -24);
      expect(to24Bits(to24Bits(x))).toBe(to24Bits(x));
      expect(to24Bits(x)).toBe(Math.fround(to24Bits(x)));
    }),
  );
});
