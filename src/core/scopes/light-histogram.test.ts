import { expect, test } from "vitest";
import { flat } from "../../testing/laboratory";
import { BIN_COUNT, lightHistogram, stopsOfBin } from "./light-histogram";

const peakOf = (bins: number[]) => stopsOfBin(bins.indexOf(Math.max(...bins)));

test("every pixel is counted once, at its stops from mid-grey", () => {
  for (const stops of [-7, -1, 0, 3.1, 12]) {
    const bins = lightHistogram(flat(16, 9, 0.18 * 2 ** stops).data, "maximum");
    expect(bins).toHaveLength(BIN_COUNT);
    expect(bins.reduce((sum, count) => sum + count, 0)).toBe(16 * 9);
    expect(Math.abs(peakOf(bins) - stops)).toBeLessThanOrEqual(0.125 + 1e-6);
  }
});

test("light is judged as the key judges it", () => {
  const red = flat(4, 4, [0.72, 0.09, 0.18]).data;
  const at = (channel: "maximum" | "red" | "green" | "blue") => peakOf(lightHistogram(red, channel));
  expect(at("maximum")).toBe(at("red"));
  expect(at("red") - at("blue")).toBe(2);
  expect(at("blue") - at("green")).toBe(1);
});

test("black, and light beyond what is counted, is counted at the ends", () => {
  expect(lightHistogram(flat(2, 2, 0).data, "luminance")[0]).toBe(4);
  expect(lightHistogram(flat(2, 2, 1e9).data, "luminance").at(-1)).toBe(4);
});
