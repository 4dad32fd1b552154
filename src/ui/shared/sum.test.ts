import { expect, test } from "vitest";
import { readSum } from "./sum";

test.each([
  ["1/3", 1 / 3],
  ["2*1.5", 3],
  ["2 × 1,5", 3],
  ["−4 + 2", -2],
  ["-(4+2)*0.5", -3],
  ["1-2-3", -4],
  ["8/2/2", 2],
  ["1e3", 1000],
  [".5", 0.5],
  ["7", 7],
])("“%s” is %d", (text, value) => {
  expect(readSum(text)).toBeCloseTo(value, 12);
});

test.each(["", "a", "1+", "(1", "1)", "1 2 x", "1/0", "--", "1..2", "alert(1)"])("“%s” is no number", (text) => {
  expect(readSum(text)).toBeNaN();
});
