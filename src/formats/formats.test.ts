import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { floatsToHalves, halfToFloat } from "./exr/half";
import { readExr } from "./exr/read";
import { writeExr } from "./exr/write";
import { FileError } from "./error";
import { readImage } from "./formats";
import { writeRaster } from "./raster/raster";

const fixture = (name: string) => readFileSync(join(__dirname, "fixtures", name));

/** The pattern the fixtures hold: colours at the corners, bilinear between (fixtures/README.md). */
const HDR = [[0, 0.25, 0.5], [1, 0.5, 0.25], [2, 4, 8], [0.5, 0.125, 16]] as const;
const LDR = [[0, 0.25, 0.5], [1, 0.5, 0.25], [0.2, 0.4, 0.8], [0.5, 0.125, 1]] as const;
function pattern(corners: typeof HDR | typeof LDR, x: number, y: number, c: number): number {
  const [u, v] = [x / 47, y / 39];
  const [a, b, d, e] = corners.map((corner) => corner[c]!);
  return (a! * (1 - u) + b! * u) * (1 - v) + (d! * (1 - u) + e! * u) * v;
}
const PLACES = [[0, 0], [47, 0], [0, 39], [47, 39], [20, 17], [31, 33], [5, 25]] as const;

describe("OpenEXR files of an independent tool", () => {
  test.each(["half-none", "half-rle", "half-zips", "half-zip", "half-piz", "float-zip", "float-piz"])("%s holds the pattern", async (name) => {
    const image = await readImage(`${name}.exr`, fixture(`${name}.exr`));
    expect([image.width, image.height, image.pixels.depth]).toEqual([48, 40, name.split("-")[0]]);
    for (const [x, y] of PLACES) for (let c = 0; c < 3; c++) expect(Math.abs(image.pixels.data[(y * 48 + x) * 4 + c]! / Math.max(pattern(HDR, x, y, c), 1e-3) - 1) * (pattern(HDR, x, y, c) > 0.001 ? 1 : 0)).toBeLessThan(1.1e-3);
    expect(image.pixels.data[3]).toBe(1);
  });
  test("noise compressed with PIZ equals the same noise uncompressed, bit for bit", async () => {
    const [packed, plain] = await Promise.all(["noise-piz.exr", "noise-none.exr"].map((name) => readImage(name, fixture(name))));
    expect(packed!.pixels.data).toEqual(plain!.pixels.data);
  });
  test("a depth channel beside the colour is read", async () => {
    const { z } = await readImage("depth.exr", fixture("depth.exr"));
    expect(z!.every((value) => value === 7.5)).toBe(true);
  });
  test("a data window inside the display window is placed, black around it", async () => {
    const { width, height, pixels } = await readImage("window.exr", fixture("window.exr"));
    expect([width, height]).toEqual([60, 50]);
    expect(pixels.data[(3 * 60 + 4) * 4]).toBe(0);
    expect(pixels.data[(3 * 60 + 5 + 47) * 4]).toBeCloseTo(1, 3);
    expect(pixels.data[(42 * 60 + 5) * 4 + 2]).toBeCloseTo(8, 2);
  });
});

test.each([["eight.png", "u8", 255, 0.6], ["sixteen.png", "u16", 65535, 0.6], ["eight.tif", "u8", 255, 0.6], ["sixteen.tif", "u16", 65535, 0.6], ["float.tif", "float", 1, 1e-5], ["eight.jpg", "u8", 255, 8]] as const)("%s keeps its code values", async (name, depth, top, close) => {
  const image = await readImage(name, fixture(name));
  expect([image.width, image.height, image.pixels.depth]).toEqual([48, 40, depth]);
  for (const [x, y] of PLACES) for (let c = 0; c < 3; c++) expect(Math.abs(image.pixels.data[(y * 48 + x) * 4 + c]! - pattern(LDR, x, y, c) * top)).toBeLessThan(close);
});

test("halves: every half comes back, and floats round to the nearest", () => {
  const all = Float32Array.from({ length: 65536 }, (_, h) => halfToFloat(h)).filter((value) => Number.isFinite(value));
  const back = floatsToHalves(all);
  all.forEach((value, i) => expect(Object.is(halfToFloat(back[i]!), value)).toBe(true));
  fc.assert(fc.property(fc.float({ min: -60000, max: 60000, noNaN: true }), (value) => {
    const [half] = floatsToHalves(Float32Array.of(value));
    const step = Math.max(2 ** -24, 2 ** (Math.floor(Math.log2(Math.max(Math.abs(value), 2 ** -14))) - 10));
    expect(Math.abs(halfToFloat(half!) - value)).toBeLessThanOrEqual(step / 2);
  }));
});

test("what is written as EXR is read back, depth and text too", async () => {
  const data = Float32Array.from({ length: 37 * 21 * 4 }, (_, i) => ((i * 7919) % 1000) / 250);
  const z = Float32Array.from({ length: 37 * 21 }, (_, i) => i / 3);
  const image = readExr("mine.exr", await writeExr(37, 21, data, { depth: "float", z, text: { haloRecipe: "abc" }, framesPerSecond: 24 }));
  expect(image.pixels.data).toEqual(data);
  expect(image.z).toEqual(z);
  expect(image.header.text.haloRecipe).toBe("abc");
  expect(image.header.framesPerSecond).toBe(24);
});

test.each([["png", "u8"], ["png", "u16"], ["tiff", "u16"]] as const)("what is written as %s %s is read back code for code", async (format, depth) => {
  const top = depth === "u8" ? 255 : 65535;
  const codes = Float32Array.from({ length: 64 * 8 * 4 }, (_, i) => ((i & 3) === 3 ? 1 : Math.round((i * 7919) % (top + 1)) / top));
  const bytes = await writeRaster(64, 8, codes, format, depth);
  const image = await readImage(`mine.${format}`, bytes);
  expect(image.pixels.depth).toBe(depth);
  codes.forEach((code, i) => expect(image.pixels.data[i]).toBe(Math.round(code * top)));
});

describe("bad files give one clear error that names them", () => {
  const exr = fixture("half-zip.exr");
  const fails = (name: string, bytes: Buffer) => readImage(name, bytes).then(() => "read", (error: unknown) => {
    expect(error).toBeInstanceOf(FileError);
    return (error as Error).message;
  });
  test("a header that claims 60000 by 60000 pixels", async () => {
    const bytes = Buffer.from(exr);
    const at = bytes.indexOf("dataWindow\0box2i\0") + "dataWindow\0box2i\0".length + 4;
    bytes.writeInt32LE(59999, at + 8);
    bytes.writeInt32LE(59999, at + 12);
    const before = process.memoryUsage().arrayBuffers;
    expect(await fails("huge.exr", bytes)).toMatch(/^huge\.exr: data window: 60000x60000 pixels is more than is taken in/);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(2 ** 24);
  });
  test.each([["cut.exr", exr.subarray(0, exr.length - 40), /chunk 3 of 3 lies beyond the end/], ["empty.png", Buffer.alloc(0), /is empty/], ["text.png", Buffer.from("hello"), /cannot be read/], ["note.txt", Buffer.from("x"), /of a kind that is not read/]] as const)("%s", async (name, bytes, says) => {
    expect(await fails(name, Buffer.from(bytes))).toMatch(says);
  });
  test.each(["half-zip.exr", "half-piz.exr", "half-rle.exr", "eight.png", "sixteen.tif"])("%s, damaged anyhow: a picture or a FileError, never anything else", async (name) => {
    const whole = fixture(name);
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { maxLength: 6 }), fc.nat(whole.length), async (changes, length) => {
        const bytes = Buffer.from(whole.subarray(0, Math.max(1, length)));
        for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value;
        await fails(name, bytes);
      }),
      { numRuns: 150 },
    );
  });
});
