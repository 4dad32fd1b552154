import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { curveThrough, isDiagonal, MIN_APART, type CurvePoints } from "./curve";
import { monotoneCubic } from "./interpolate";

/** Ascending places, no two nearer than a hundredth, with any values. */
const samples = fc
  .array(fc.tuple(fc.double({ min: 0.01, max: 5, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })), {
    minLength: 1,
    maxLength: 12,
  })
  .map((steps) => {
    let x = -3;
    return { xs: steps.map(([by]) => (x += by)), ys: steps.map(([, y]) => y) };
  });
const shares = Array.from({ length: 21 }, (_, i) => i / 20);

describe("the monotone cubic", () => {
  test("runs through its samples and holds outside them", () => {
    fc.assert(
      fc.property(samples, ({ xs, ys }) => {
        const curve = monotoneCubic(xs, ys);
        xs.forEach((x, i) => expect(curve(x)).toBeCloseTo(ys[i]!, 9));
        expect(curve(xs[0]! - 7)).toBe(ys[0]);
        expect(curve(xs.at(-1)! + 7)).toBe(ys.at(-1));
      }),
    );
  });
  test("goes beyond neither of two neighbours between them: a measured fall never rings", () => {
    fc.assert(
      fc.property(samples, ({ xs, ys }) => {
        const curve = monotoneCubic(xs, ys);
        for (let i = 1; i < xs.length; i++) {
          const [low, high] = [Math.min(ys[i - 1]!, ys[i]!), Math.max(ys[i - 1]!, ys[i]!)];
          for (const t of shares) {
            const value = curve(xs[i - 1]! + t * (xs[i]! - xs[i - 1]!));
            expect(value).toBeGreaterThanOrEqual(low - 1e-9);
            expect(value).toBeLessThanOrEqual(high + 1e-9);
          }
        }
      }),
    );
  });
  test("of points on a line, is that line", () => {
    const curve = monotoneCubic([0, 1, 4, 9], [2, 5, 14, 29]);
    for (const x of [0.3, 2, 3.9, 7.5]) expect(curve(x)).toBeCloseTo(2 + 3 * x, 12);
  });
  test("has no corner at a sample: its slope is the same from both sides", () => {
    const curve = monotoneCubic([0, 10, 20, 40, 60], [1, 0.86, 0.62, 0.31, 0.12]);
    for (const x of [10, 20, 40]) {
      const h = 1e-4;
      const [before, after] = [(curve(x) - curve(x - h)) / h, (curve(x + h) - curve(x)) / h];
      expect(after).toBeCloseTo(before, 4);
    }
  });
});

describe("a drawn curve", () => {
  const drawn: CurvePoints = [
    [-6, -5],
    [-3, -2.8],
    [0, 0],
    [3, 2.7],
    [6, 4.9],
  ];
  test("never comes down, however its points are dragged: what is brighter stays brighter", () => {
    fc.assert(
      fc.property(samples, fc.double({ min: -3, max: 5, noNaN: true }), ({ xs, ys }, strength) => {
        if (xs.length < 2) return;
        const curve = curveThrough(
          xs.map((x, i) => [x, ys[i]!] as const),
          strength,
        );
        let before = -Infinity;
        for (let x = xs[0]! - 4; x < xs.at(-1)! + 4; x += 0.05) {
          const value = curve(x);
          expect(value).toBeGreaterThanOrEqual(before - 1e-9);
          before = value;
        }
      }),
    );
  });
  test("goes on beyond its points as straight as light does: a slope of one", () => {
    const curve = curveThrough(drawn);
    expect(curve(-9) - curve(-8)).toBeCloseTo(-1, 12);
    expect(curve(12) - curve(8)).toBeCloseTo(4, 12);
  });
  test("at strength 0 changes nothing, and at half stands half as far from the diagonal", () => {
    const [none, half, whole] = [0, 0.5, 1].map((strength) => curveThrough(drawn, strength));
    for (const [x] of drawn) {
      expect(none!(x)).toBeCloseTo(x, 12);
      expect(half!(x) - x).toBeCloseTo((whole!(x) - x) / 2, 12);
    }
    expect(isDiagonal(drawn)).toBe(false);
    expect(isDiagonal(drawn.map(([x]) => [x, x] as const))).toBe(true);
  });
  test("two points as near as they may be are still a curve", () => {
    const curve = curveThrough([
      [0, 0],
      [MIN_APART, 3],
    ]);
    expect([curve(-1), curve(0), curve(MIN_APART)]).toEqual([-1, 0, 3]);
  });
});
