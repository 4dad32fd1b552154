import sharp from "sharp";
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

/**
 * A plain TIFF of 32-bit floats or bytes, its tags as they are given; written here by the specification, not by the
 * application's writer.
 */
function plainTiff(
  samples: Float32Array | Uint8Array,
  width: number,
  channels: number,
  more: [tag: number, value: number][] = [],
): Buffer {
  const isFloat = samples instanceof Float32Array;
  const height = samples.length / width / channels;
  const pixels = Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
  const padded = Buffer.concat([pixels, Buffer.alloc(pixels.length & 1)]);
  const entries: [number, number, number[]][] = [
    [256, 4, [width]],
    [257, 4, [height]],
    [258, 3, Array<number>(channels).fill(isFloat ? 32 : 8)],
    [259, 3, [1]],
    [262, 3, [channels > 2 ? 2 : 1]],
    [273, 4, [8]],
    [277, 3, [channels]],
    [278, 4, [height]],
    [279, 4, [pixels.length]],
    [339, 3, Array<number>(channels).fill(isFloat ? 3 : 1)],
  ];
  for (const [tag, value] of more) {
    const found = entries.find(([own]) => own === tag);
    if (found) found[2] = [value];
    else entries.push([tag, 3, [value]]);
  }
  entries.sort(([a], [b]) => a - b);
  const at = 8 + padded.length;
  const directory = Buffer.alloc(2 + 12 * entries.length + 4);
  const behind: Buffer[] = [];
  let behindAt = at + directory.length;
  directory.writeUInt16LE(entries.length);
  entries.forEach(([tag, type, values], i) => {
    const bytes = Buffer.alloc(values.length * (type === 3 ? 2 : 4));
    values.forEach((value, k) => (type === 3 ? bytes.writeUInt16LE(value, k * 2) : bytes.writeUInt32LE(value, k * 4)));
    directory.writeUInt16LE(tag, 2 + 12 * i);
    directory.writeUInt16LE(type, 4 + 12 * i);
    directory.writeUInt32LE(values.length, 6 + 12 * i);
    if (bytes.length <= 4) bytes.copy(directory, 10 + 12 * i);
    else {
      directory.writeUInt32LE(behindAt, 10 + 12 * i);
      behind.push(bytes);
      behindAt += bytes.length;
    }
  });
  const head = Buffer.from("II*\0\0\0\0\0", "latin1");
  head.writeUInt32LE(at, 4);
  return Buffer.concat([head, padded, directory, ...behind]);
}

describe("a TIFF is read by its tags", () => {
  test("grey floats are light as they stand", async () => {
    const { pixels, alpha } = await readRaster("g.tif", plainTiff(Float32Array.of(0, 0.18, 1, 7.5), 2, 1));
    expect([...pixels.data].filter((_, i) => (i & 3) === 0)).toEqual([0, 0.18, 1, 7.5].map(Math.fround));
    expect([...pixels.data].filter((_, i) => (i & 3) === 3)).toEqual([1, 1, 1, 1]);
    expect(alpha).toBeUndefined();
  });
  test.each([
    [1, "unassociated", [199, 99, 49, 128]],
    [2, "unassociated", [100, 50, 25, 128]],
    [0, undefined, [100, 50, 25, 255]],
  ] as const)("extra samples %i: what was multiplied by alpha is divided by it", async (extra, alpha, wanted) => {
    const image = await readRaster("a.tif", plainTiff(Uint8Array.of(100, 50, 25, 128), 1, 4, [[338, extra]]));
    expect(image.alpha).toBe(alpha);
    expect([...image.pixels.data]).toEqual(wanted);
  });
  test.each([
    [6, /holds YCbCr pixels; grey and RGB are read/],
    [8, /holds CIE L\*a\*b\*/],
    [32845, /holds LogLuv/],
  ])("pixels of the kind %i are refused by name", async (photometric, reason) => {
    const file = plainTiff(Uint8Array.of(200, 100, 50), 1, 3, [[262, photometric]]);
    await expect(readRaster("k.tif", file)).rejects.toThrow(reason);
  });
  test("orientation is applied", async () => {
    const { width, height, pixels } = await readRaster(
      "o.tif",
      plainTiff(Uint8Array.of(1, 1, 1, 2, 2, 2, 3, 3, 3, 4, 4, 4, 5, 5, 5, 6, 6, 6), 3, 3, [[274, 6]]),
    );
    expect([width, height]).toEqual([2, 3]);
    expect([...pixels.data].filter((_, i) => (i & 3) === 0)).toEqual([4, 1, 5, 2, 6, 3]);
  });
});

test("PNG's alpha is unassociated, and a picture without any has none", async () => {
  const png = (channels: 3 | 4) =>
    sharp(Buffer.from([200, 100, 50, 128].slice(0, channels)), { raw: { width: 1, height: 1, channels } })
      .png()
      .toBuffer();
  expect((await readRaster("a.png", await png(4))).alpha).toBe("unassociated");
  expect((await readRaster("b.png", await png(3))).alpha).toBeUndefined();
});
