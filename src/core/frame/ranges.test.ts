import fc from "fast-check";
import { expect, test } from "vitest";
import {
  clipped,
  countOf,
  frameAt,
  framesIn,
  frameUpTo,
  gapsOf,
  hasFrame,
  indexOfFrame,
  parts,
  rangesOf,
  rangesText,
} from "./ranges";

const numbers = fc.array(fc.integer({ min: 0, max: 60 }), { maxLength: 40 });

test("ranges say of a set of numbers what the set says itself", () => {
  fc.assert(
    fc.property(numbers, fc.integer({ min: -5, max: 65 }), fc.integer({ min: 0, max: 65 }), (given, probe, span) => {
      const ranges = rangesOf(given);
      const set = [...new Set(given)].sort((a, b) => a - b);
      expect([...framesIn(ranges)]).toEqual(set);
      expect(countOf(ranges)).toBe(set.length);
      expect(hasFrame(ranges, probe)).toBe(set.includes(probe));
      expect(indexOfFrame(ranges, probe)).toBe(set.indexOf(probe));
      expect(frameAt(ranges, probe)).toBe(set[probe]);
      expect(frameUpTo(ranges, probe)).toBe(set.findLast((number) => number <= probe));
      expect([...framesIn(clipped(ranges, probe, probe + span))]).toEqual(
        set.filter((n) => n >= probe && n <= probe + span),
      );
      const [low, high] = [set[0] ?? 0, set.at(-1) ?? -1];
      const missing = Array.from({ length: Math.max(0, high - low + 1) }, (_, i) => low + i).filter(
        (n) => !set.includes(n),
      );
      expect([...framesIn(gapsOf(ranges))]).toEqual(missing);
    }),
  );
});

test("a gap costs nothing, however long", () => {
  const ranges = rangesOf([1, 2_000_000_000]);
  expect(ranges).toEqual([
    [1, 1],
    [2_000_000_000, 2_000_000_000],
  ]);
  expect(gapsOf(ranges)).toEqual([[2, 1_999_999_999]]);
  expect(rangesText(gapsOf(ranges))).toBe("2 to 1999999999");
});

test("parts are of one size but for the last, in order, and leave nothing out", () => {
  expect(parts([[1, 20]], 8)).toEqual([[[1, 8]], [[9, 16]], [[17, 20]]]);
  expect(
    parts(
      [
        [1, 3],
        [10, 10],
        [20, 26],
      ],
      5,
    ),
  ).toEqual([
    [
      [1, 3],
      [10, 10],
      [20, 20],
    ],
    [[21, 25]],
    [[26, 26]],
  ]);
  expect(parts([], 5)).toEqual([]);
});
