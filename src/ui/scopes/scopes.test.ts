import { describe, expect, test } from "vitest";
import { COLUMNS, LEVELS } from "@/core/compile/outputs/scopes";
import type { ScopeCounts } from "@/core/scopes/count";
import { rampFrame, RAMP_STEPS, stopsOfStep } from "@/core/scopes/ramp";
import { atEnds, heightsOf } from "./draw";
import { marksOf } from "./marks";
import { CLOSED_SCOPES, countedScale, toggledScope } from "../view/scopes";

/** Counts of a picture all of whose pixels are at a level, and some of whose red ones are elsewhere. */
function counted(level: number, red: readonly [level: number, share: number] = [level, 0]): ScopeCounts {
  const plane = () => new Uint32Array(COLUMNS * LEVELS);
  const [r, g, b, luma] = [plane(), plane(), plane(), plane()];
  const each = 100;
  for (let column = 0; column < COLUMNS; column++) {
    for (const of of [g, b, luma]) of[column * LEVELS + level] = each;
    r[column * LEVELS + level]! += each * (1 - red[1]);
    r[column * LEVELS + red[0]]! += each * red[1];
  }
  return { red: r, green: g, blue: b, luma, vectors: null, pixels: COLUMNS * each };
}

describe("the lines of a scale", () => {
  test("stand in order, within the scale, whatever it is", () => {
    for (const scale of ["code", "stops", "nits"] as const)
      for (const display of ["srgb", "bt1886", "p3-d65"] as const) {
        const places = marksOf(scale, display).map(({ at }) => at);
        expect([...places].sort((a, b) => a - b)).toEqual(places);
        expect(places[0]).toBeGreaterThanOrEqual(0);
        expect(places.at(-1)).toBeLessThanOrEqual(1);
      }
  });
  test("put nits where a display makes them of the signal: 50 of 100 at 0.735 of sRGB, at 0.749 of BT.1886", () => {
    const fifty = (display: "srgb" | "bt1886") => marksOf("nits", display).find(({ text }) => text === "50")!.at;
    expect(fifty("srgb")).toBeCloseTo(1.055 * 0.5 ** (1 / 2.4) - 0.055, 6);
    expect(fifty("bt1886")).toBeCloseTo(0.5 ** (1 / 2.4), 6);
  });
  test("put mid-grey at its place between the darkest and the brightest stop", () => {
    expect(marksOf("stops", "srgb").find(({ text }) => text === "0")!.at).toBeCloseTo(10 / 18, 9);
    expect(countedScale("nits")).toBe("code");
    expect(countedScale("stops")).toBe("stops");
  });
});

describe("what is drawn of counts", () => {
  test("a histogram's highest level is full; a quarter as many pixels are half as high", () => {
    const heights = heightsOf(counted(100, [50, 0.2]).red);
    expect(heights[100]).toBe(1);
    expect(heights[50]).toBeCloseTo(Math.sqrt(0.2 / 0.8), 9);
    expect(heights.filter((height) => height > 0)).toHaveLength(2);
  });
  test("black and white at the ends do not flatten what lies between: they are held at the top", () => {
    const heights = heightsOf(counted(0, [128, 0.01]).red);
    expect(heights[0]).toBe(1);
    expect(heights[128]).toBe(1);
  });
  test("the ends of the scale are told of the channel that has most there", () => {
    expect(atEnds(counted(100, [LEVELS - 1, 0.25]))).toEqual({ low: 0, high: 0.25 });
    expect(atEnds(counted(0))).toEqual({ low: 1, high: 0 });
  });
});

test("scopes are switched one by one and keep their order", () => {
  const more = toggledScope(toggledScope(CLOSED_SCOPES, "ramp"), "parade");
  expect(more.shown).toEqual(["waveform", "parade", "vectors", "histogram", "ramp"]);
  expect(toggledScope(more, "waveform").shown).toEqual(["parade", "vectors", "histogram", "ramp"]);
});

test("the ramp goes from -10 to +8 stops, evenly, with mid-grey on a step", () => {
  expect([stopsOfStep(0), stopsOfStep(RAMP_STEPS - 1)]).toEqual([-10, 8]);
  const { width, height, data } = rampFrame(2);
  expect([width, height]).toEqual([RAMP_STEPS, 2]);
  expect(data[120 * 4]).toBeCloseTo(0.18, 7);
  for (let step = 1; step < RAMP_STEPS; step++)
    expect(data[step * 4]! / data[(step - 1) * 4]!).toBeCloseTo(2 ** (1 / 12), 4);
  expect(data[RAMP_STEPS * 4 + 400]).toBe(data[400]);
});
