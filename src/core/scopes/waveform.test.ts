import { expect, test } from "vitest";
import { waveformOf } from "./waveform";

test("a horizontal ramp is a rising line, and every pixel is counted once", () => {
  const [width, height] = [64, 10];
  const pixels = Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) =>
    (i & 3) === 3 ? 255 : ((i >> 2) % width) * 4,
  );
  const { red, blue } = waveformOf(pixels, width, height, 32, 64);
  for (let column = 0; column < 32; column++) {
    const counts = [...red.subarray(column * 64, column * 64 + 64)];
    expect(counts.reduce((a, b) => a + b)).toBe(20);
    expect(counts.flatMap((count, level) => (count ? [level] : []))).toEqual([column * 2, column * 2 + 1]);
  }
  expect(blue).toEqual(red);
});
