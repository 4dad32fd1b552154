import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { painted } from "../../testing/laboratory";
import { FARTHEST } from "../image/image";
import { distanceOf } from "./depth-plate";
import { cornerHeight, frameGeometry } from "./geometry";
import { middleOfShape, plateFrame } from "./plate";

describe("where pixels lie on the sensor", () => {
  test("the axis is the frame's middle, a pitch is the sensor's size over its pixels, and the corner half a diagonal off", () => {
    const geometry = frameGeometry(1920, 1080, { width: 24.9, height: 14 }, 1);
    expect([geometry.axisX, geometry.axisY]).toEqual([959.5, 539.5]);
    expect(geometry.pitchX * 1920).toBeCloseTo(24.9, 12);
    expect(cornerHeight(geometry)).toBeCloseTo(Math.hypot(24.9, 14) / 2, 12);
  });
  test("half the pixels on the same sensor are twice as large, and image heights stay", () => {
    const sensor = { width: 24.9, height: 14 };
    const [whole, half] = [frameGeometry(1920, 1080, sensor, 1), frameGeometry(960, 540, sensor, 1)];
    expect(half.pitchX).toBeCloseTo(2 * whole.pitchX, 12);
    expect(cornerHeight(half)).toBeCloseTo(cornerHeight(whole), 12);
  });
});

describe("a plate", () => {
  const frames = [
    [11, 14],
    [20, 21],
  ] as const;
  test("goes through its frames, over a gap; before and after them it holds, or begins anew", () => {
    expect([0, 3, 4, 5].map((index) => plateFrame(frames, index, "hold"))).toEqual([11, 14, 20, 21]);
    expect([-5, 6, 100].map((index) => plateFrame(frames, index, "hold"))).toEqual([11, 21, 21]);
    expect([6, -1, 13].map((index) => plateFrame(frames, index, "loop"))).toEqual([11, 21, 14 - 2]);
  });
  test("looped, the same place comes back after as many frames as it has", () => {
    fc.assert(
      fc.property(fc.integer({ min: -1000, max: 1000 }), (index) => {
        expect(plateFrame(frames, index, "loop")).toBe(plateFrame(frames, index + 6, "loop"));
      }),
    );
  });
  test("of another shape is cut about its middle, and not at all where it has the shape", () => {
    const frame = painted(40, 20, (x, y) => [x, y, 0]);
    expect(middleOfShape(frame, 80, 40)).toBe(frame);
    const square = middleOfShape(frame, 10, 10);
    expect([square.width, square.height]).toEqual([20, 20]);
    expect([...square.data.slice(0, 3)]).toEqual([10, 0, 0]);
    const wide = middleOfShape(frame, 400, 100);
    expect([wide.width, wide.height]).toEqual([40, 10]);
    expect([...wide.data.slice(0, 3)]).toEqual([0, 5, 0]);
  });
});

describe("what a depth plate says", () => {
  test("as a distance, its values lie evenly in metres", () => {
    const reads = { reads: "distance", near: 2, far: 42 } as const;
    expect([0, 0.5, 1].map((value) => distanceOf(reads, value))).toEqual([2, 22, 42]);
  });
  test("as nearness, evenly in one over metres: white is near, black is far", () => {
    const reads = { reads: "nearness", near: 2, far: 50 } as const;
    expect(distanceOf(reads, 1)).toBeCloseTo(2, 12);
    expect(distanceOf(reads, 0)).toBeCloseTo(50, 12);
    expect(1 / distanceOf(reads, 0.5)).toBeCloseTo((1 / 2 + 1 / 50) / 2, 12);
  });
  test("is never nearer than nothing, nor farther than the farthest, whatever stands in it", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("distance", "nearness"),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        (reads, value) => {
          const metres = distanceOf({ reads, near: 1, far: 100 }, value);
          expect(metres).toBeGreaterThan(0);
          expect(metres).toBeLessThanOrEqual(FARTHEST);
        },
      ),
    );
  });
});
