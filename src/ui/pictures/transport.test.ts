import { expect, test } from "vitest";
import { faster, nextIndex, placesIn } from "./transport";

test("asked again it goes faster, up to eight; asked the other way it turns", () => {
  const again = [0, 1, 2, 3, 4].reduce<number[]>((speeds) => [...speeds, faster(speeds.at(-1)!, 1)], [0]);
  expect(again).toEqual([0, 1, 2, 4, 8, 8]);
  expect(faster(4, -1)).toBe(-1);
  expect(faster(-1, -1)).toBe(-2);
});

test("a span goes by frame numbers, over gaps; one that is not there is the whole shot", () => {
  const frames: [number, number][] = [
    [1001, 1010],
    [1021, 1030],
  ];
  expect(placesIn(frames, null)).toEqual([0, 19]);
  expect(placesIn(frames, [1003, 1022])).toEqual([2, 11]);
  expect(placesIn(frames, [1003, 1015])).toEqual([0, 19]);
  expect(placesIn(frames, [1022, 1003])).toEqual([0, 19]);
});

test("it goes round within its span, both ways and at every speed, and comes in at the end it meets first", () => {
  const round = (place: number, speed: number, count: number) =>
    Array.from({ length: count }, () => (place = nextIndex(place, speed, [2, 6])));
  expect(round(5, 1, 4)).toEqual([6, 2, 3, 4]);
  expect(round(3, -1, 4)).toEqual([2, 6, 5, 4]);
  expect(round(2, 2, 4)).toEqual([4, 6, 3, 5]);
  expect(round(2, -8, 2)).toEqual([4, 6]);
  expect(nextIndex(0, 1, [2, 6])).toBe(2);
  expect(nextIndex(9, -1, [2, 6])).toBe(6);
});
