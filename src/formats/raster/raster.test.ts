import { describe, expect, test } from "vitest";
import { fixture, HDR, LDR, overPattern } from "../fixtures/pattern";
import { readImage } from "../formats";
import { writeTiff } from "../tiff/tiff";
import { readRaster, writeJpeg, writePng } from "./raster";

test.each([
  ["eight.png", "8", 255, 0.6],
  ["sixteen.png", "16", 65535, 0.6],
  ["eight.tif", "8", 255, 0.6],
  ["packbits.tif", "8", 255, 0.6],
  ["sixteen.tif", "16", 65535, 0.6],
  ["tiled.tif", "16", 65535, 0.6],
  ["float.tif", "float", 1, 1e-5],
  ["eight.jpg", "8", 255, 8],
] as const)("%s of an independent tool keeps its code values", async (name, depth, top, close) => {
  const image = await readImage(name, fixture(name));
  expect([image.width, image.height, image.pixels.depth]).toEqual([48, 40, depth]);
  overPattern(LDR, (at, wanted) => expect(Math.abs(image.pixels.data[at]! - wanted * top)).toBeLessThan(close));
});

test("a float TIFF keeps light above 1", async () => {
  const { data } = (await readRaster("bright.tif", fixture("bright.tif"))).pixels;
  overPattern(HDR, (at, wanted) => expect(data[at]).toBeCloseTo(wanted, 4));
});

describe("what is written is read back code for code", () => {
  const codes = (top: number, alpha: boolean) =>
    Float32Array.from({ length: 61 * 9 * 4 }, (_, i) => ((i & 3) === 3 && !alpha ? 1 : ((i * 7919) % (top + 1)) / top));
  test.each([
    ["png", "8", false],
    ["png", "8", true],
    ["png", "16", false],
    ["png", "16", true],
    ["tif", "8", false],
    ["tif", "8", true],
    ["tif", "16", false],
    ["tif", "16", true],
  ] as const)("%s %s bits (alpha: %s)", async (format, depth, alpha) => {
    const top = 2 ** Number(depth) - 1;
    const data = codes(top, alpha);
    for (const compression of ["deflate", "none"]) {
      const bytes =
        format === "png"
          ? await writePng({ width: 61, height: 9, data }, { depth })
          : writeTiff({ width: 61, height: 9, data }, { depth, compression });
      const image = await readImage(`mine.${format}`, bytes);
      expect(image.pixels.depth).toBe(depth);
      data.forEach((code, i) => expect(image.pixels.data[i]).toBe(Math.round(code * top)));
    }
  });
  test("TIFF float, whatever the numbers", async () => {
    const data = Float32Array.from({ length: 61 * 9 * 4 }, (_, i) =>
      (i & 3) === 3 ? 1 : Math.fround((i - 700) * 0.37),
    );
    expect(
      (await readRaster("mine.tif", writeTiff({ width: 61, height: 9, data }, { depth: "float" }))).pixels.data,
    ).toEqual(data);
  });
  test("a JPEG, within what it loses on a smooth picture", async () => {
    const data = Float32Array.from({ length: 64 * 64 * 4 }, (_, i) =>
      (i & 3) === 3 ? 1 : ((i >> 2) % 64) / 80 + (i & 3) / 20,
    );
    const image = await readRaster("mine.jpg", await writeJpeg({ width: 64, height: 64, data }, { depth: "8" }));
    data.forEach((code, i) => expect(Math.abs(image.pixels.data[i]! - code * 255)).toBeLessThan(5));
  });
});

test("a PNG's colour tags and text come back", async () => {
  const data = new Float32Array(4 * 4 * 4).fill(1);
  const { info } = await readRaster(
    "mine.png",
    await writePng(
      { width: 4, height: 4, data },
      {
        depth: "16",
        tags: { cicp: { primaries: 9, transfer: 16, matrix: 0, fullRange: true } },
        text: { haloRecipe: "abc" },
      },
    ),
  );
  expect(info).toMatchObject({
    tags: { cicp: { primaries: 9, transfer: 16, matrix: 0, fullRange: true } },
    text: { haloRecipe: "abc" },
  });
});
