import { describe, expect, test } from "vitest";
import { at, flat, lookOf, through } from "../../../testing/laboratory";

/**
 * Width of the grain at half its height (µm), from the light's own correlation along rows: of a Gaussian, sqrt 2 less
 * than the correlation's.
 */
function clumpSize(size: number, pitch: number, softness = 0): number {
  const [width, height] = [512, 256];
  const sensor = { width: (pitch * width) / 1000, height: (pitch * height) / 1000 };
  const params = { size, softness, shadow: 10, middle: 10, highlight: 10, correlation: 1 };
  const out = through(lookOf([{ kind: "grain", params }], {}, sensor), flat(width, height, 0.18));
  const logs = Array.from({ length: width * height }, (_, i) => Math.log(at(out, i % width, Math.floor(i / width))));
  const mean = logs.reduce((a, b) => a + b, 0) / logs.length;
  const correlation = (lag: number) => {
    let sum = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x + lag < width; x++) sum += (logs[y * width + x]! - mean) * (logs[y * width + x + lag]! - mean);
    return sum / ((width - lag) * height);
  };
  const whole = correlation(0);
  let lag = 0;
  while (correlation(lag + 1) > whole / 2) lag++;
  const [before, after] = [correlation(lag), correlation(lag + 1)];
  const half = lag + (before - whole / 2) / (before - after);
  return (2 * half * pitch) / Math.SQRT2;
}

describe("grain is as large as asked", () => {
  test.each([
    [40, 2.5, 0],
    [40, 5, 0],
    [20, 2.5, 0],
    [14, 5, 0],
    [20, 2.5, 1],
  ])("%d µm on pixels of %d µm, softness %d", (size, pitch, softness) => {
    // A pixel's own box widens it a little.
    const wanted = (1 + softness) * Math.hypot(size, (2.3548 * pitch) / Math.sqrt(12));
    expect(Math.abs(clumpSize(size, pitch, softness) / wanted - 1)).toBeLessThan(0.06);
  });
});
