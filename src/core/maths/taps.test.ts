import { expect, test } from "vitest";
import { areaTaps, scaledTaps } from "./taps";

/** What the tables make of a row, by their own definition; reading outside it would be NaN. */
function applied(table: Float32Array, row: number[]): number[] {
  const most = table[0]!;
  return Array.from({ length: (table.length - 1) / (most + 1) }, (_, i) => {
    const [first, ...weights] = table.subarray(1 + i * (most + 1), 1 + (i + 1) * (most + 1));
    return weights.reduce((sum, weight, k) => sum + weight * row[first! + k]!, 0);
  });
}

const ramp = (length: number) => Array.from({ length }, (_, i) => i);

test.each([
  [12, 12],
  [12, 5],
  [1280, 427],
  [7, 20],
  [1, 3],
  [5, 1],
])("by area, %i to %i: the mean and a row's middle are kept, no weight reaches outside", (from, to) => {
  const out = applied(areaTaps(from, to), ramp(from));
  expect(out).toHaveLength(to);
  expect(out.reduce((a, b) => a + b, 0) / to).toBeCloseTo((from - 1) / 2, 4);
  for (const value of applied(areaTaps(from, to), new Array<number>(from).fill(3))) expect(value).toBeCloseTo(3, 5);
});

test("no change of size hands every value on as it is", () => {
  const row = [0.1, 7.3, -2, 1e5];
  expect(applied(areaTaps(4, 4), row)).toEqual(row);
});

test.each([2.2, 1, 0.5, -0.3, -1.7])(
  "scaled by %d about the axis: a ramp stays a ramp, turned over below 0; black outside",
  (factor) => {
    const axis = 30.3;
    const out = applied(scaledTaps(61, factor, axis), ramp(61));
    const flat = applied(scaledTaps(61, factor, axis), new Array<number>(61).fill(1));
    const half = Math.ceil(Math.max(1, Math.abs(factor))) / Math.abs(factor) + 0.5;
    for (let i = 0; i < 61; i++) {
      const place = axis + (i - axis) / factor;
      if (place - half > 0 && place + half < 60) {
        expect(flat[i]).toBeCloseTo(1, 5);
        expect(Math.abs(out[i]! - place)).toBeLessThan(0.02);
      }
      // Every pixel counts alike: what it gives to all places together is the factor.
      if (i > 25 && i < 35)
        expect(
          applied(
            scaledTaps(61, factor, axis),
            ramp(61).map((j) => Number(j === i)),
          ).reduce((a, b) => a + b, 0),
        ).toBeCloseTo(Math.abs(factor), 2);
      if (place < -half || place > 60 + half) expect(out[i]).toBe(0);
    }
  },
);
