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
