import { expect, test } from "vitest";
import { COLUMNS, LEVELS, VECTORS } from "../compile/outputs/scopes";
import { countsOfPixels } from "./waveform";

test("a horizontal ramp of code values is a rising line, and every pixel is counted once", () => {
  const [width, height] = [2 * COLUMNS, 10];
  const codeOf = (x: number) => Math.floor((x * LEVELS) / width);
  const codes = Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) =>
    (i & 3) === 3 ? 255 : codeOf((i >> 2) % width),
  );
  const { red, blue, luma, pixels } = countsOfPixels(codes, width, height);
  for (let column = 0; column < COLUMNS; column++) {
    const counts = [...red.subarray(column * LEVELS, (column + 1) * LEVELS)];
    expect(counts.reduce((a, b) => a + b)).toBe(2 * height);
    const levels = counts.flatMap((count, level) => (count ? [level] : []));
    expect(levels).toEqual([...new Set([codeOf(2 * column), codeOf(2 * column + 1)])]);
  }
  expect(blue).toEqual(red);
  expect(luma.reduce((a, b) => a + b)).toBe(pixels);
});

test("hues are counted where the vectorscope has them, and only where they are asked for", () => {
  const codes = Uint8ClampedArray.of(...[255, 0, 0, 255], ...[90, 90, 90, 255], ...[90, 90, 90, 255]);
  const { vectors } = countsOfPixels(codes, 3, 1, { vectors: true });
  const cells = [...vectors!].flatMap((count, at) => (count ? [[at % VECTORS, Math.floor(at / VECTORS), count]] : []));
  const middle = VECTORS / 2;
  // Grey in the middle; a full red at the top, a little to the left.
  const [red, grey] = cells as [number[], number[]];
  expect(grey).toEqual([middle, middle, 2]);
  expect(red[1]).toBe(0);
  expect(red[0]).toBeGreaterThan(VECTORS / 4);
  expect(red[0]).toBeLessThan(middle);
  expect(countsOfPixels(codes, 3, 1).vectors).toBeNull();
});
