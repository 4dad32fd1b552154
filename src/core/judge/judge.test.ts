import { describe, expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import { bandedShare } from "./banding";
import { changeWithin } from "./change";
import { markedEnds, newlyAtEnds } from "./clipping";

const picture = (width: number, height: number, signal: (x: number, y: number) => number) => {
  const data = new Float32Array(width * height * 4);
  for (let i = 0; i < width * height; i++)
    data.set([...Array<number>(3).fill(signal(i % width, Math.floor(i / width))), 1], i * 4);
  return data;
};

describe("pixels newly at the ends of the scale", () => {
  const before = Float32Array.of(0.5, 0.5, 0.5, 1, 1, 0.2, 0.2, 1, 0.1, 0.1, 0.1, 1, 0, 0, 0, 1);
  const after = Float32Array.of(1, 0.5, 0.5, 1, 1, 1, 1, 1, 0, 0, 0, 1, 0, 0, 0, 1);
  test("are clipped by any channel and crushed by all; what was there before is not counted", () => {
    const { ends, clipping } = newlyAtEnds(after, before);
    expect([...ends]).toEqual([1, 0, 2, 0]);
    expect(clipping).toEqual({ clipped: 0.25, crushed: 0.25 });
  });
  test("are marked in colours that nothing else has; all else is grey", () => {
    const marks = markedEnds(after, newlyAtEnds(after, before).ends);
    const colour = (i: number) => [...marks.slice(4 * i, 4 * i + 3)];
    expect(colour(0)[0]).not.toBe(colour(0)[2]);
    expect(colour(2)[2]).toBeGreaterThan(colour(2)[0]!);
    for (const i of [1, 3]) expect(new Set(colour(i)).size).toBe(1);
  });
});

describe("banding", () => {
  const gradient = (x: number) => 0.2 + 0.1 * (x / 480);
  const random = numbers(3);
  test("is seen in a clean slow gradient at eight bits, and not at twelve", () => {
    const clean = picture(480, 270, gradient);
    expect(bandedShare(clean, 480, 270, 8)).toBeGreaterThan(0.9);
    expect(bandedShare(clean, 480, 270, 12)).toBe(0);
  });
  test("is hidden by grain of a code, and is not there in an even field or a steep gradient", () => {
    const grainy = picture(480, 270, (x) => gradient(x) + (random() - 0.5) * (4 / 255));
    expect(bandedShare(grainy, 480, 270, 8)).toBe(0);
    expect(
      bandedShare(
        picture(480, 270, () => 0.3),
        480,
        270,
        8,
      ),
    ).toBe(0);
    expect(
      bandedShare(
        picture(480, 270, (x) => x / 480),
        480,
        270,
        8,
      ),
    ).toBe(0);
  });
});

test("a change within an area is told in stops, of where the area is full", () => {
  const before = picture(4, 1, () => 0.2);
  const after = picture(4, 1, (x) => (x < 2 ? 0.1 : 0.2));
  const matte = Uint8Array.from([255, 255, 0, 0].flatMap((value) => [value, value, value, 255]));
  expect(changeWithin(after, before, matte)).toBeCloseTo(-1, 6);
  expect(changeWithin(after, before, new Uint8Array(16))).toBe(0);
});
