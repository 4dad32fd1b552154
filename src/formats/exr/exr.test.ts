import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { FileError } from "../error";
import { fixture, HDR, overPattern } from "../fixtures/pattern";
import { readImage } from "../formats";
import { WRITTEN } from "./compression";
import { floatsToHalves, halfToFloat } from "../../core/maths/half";
import { readExr } from "./read";
import { writeExr } from "./write";

const holdsPattern = (data: ArrayLike<number>, scale = 1) =>
  overPattern(HDR, (at, wanted) =>
    expect(Math.abs(data[at]! - wanted * scale)).toBeLessThan(1.1e-3 * Math.max(wanted, 0.5)),
  );

describe("files of an independent tool", () => {
  test.each([
    "half-none",
    "half-rle",
    "half-zips",
    "half-zip",
    "half-piz",
    "float-zip",
    "float-piz",
    "tiled-zip",
    "tiled-piz",
    "mipmap",
  ])("%s holds the pattern", async (name) => {
    const image = await readImage(`${name}.exr`, fixture(`${name}.exr`));
    expect([image.width, image.height, image.pixels.depth]).toEqual([
      48,
      40,
      name.startsWith("float") ? "float" : "half",
    ]);
    holdsPattern(image.pixels.data);
    expect(image.pixels.data[3]).toBe(1);
  });
  test("noise compressed with PIZ equals the same noise uncompressed, bit for bit", async () => {
    const [packed, plain] = await Promise.all(
      ["noise-piz.exr", "noise-none.exr"].map((name) => readExr(name, fixture(name))),
    );
    expect(packed!.pixels.data).toEqual(plain!.pixels.data);
  });
  test.each(["pxr24", "pxr24-float", "b44", "b44a"])(
    "%s is undone as the tool undoes it, bit for bit",
    async (name) => {
      const [ours, theirs] = await Promise.all(
        [`lossy-${name}.exr`, `lossy-${name}-undone.exr`].map((file) => readExr(file, fixture(file))),
      );
      expect(ours!.pixels.data).toEqual(theirs!.pixels.data);
    },
  );
  test.each(["dwaa", "dwab"])("%s is undone as the tool undoes it, within a half's rounding", async (name) => {
    const [ours, theirs] = await Promise.all(
      [`lossy-${name}.exr`, `lossy-${name}-undone.exr`].map(
        async (file) => (await readExr(file, fixture(file))).pixels.data,
      ),
    );
    theirs!.forEach((value, i) =>
      expect(Math.abs(ours![i]! - value)).toBeLessThanOrEqual(Math.max(2 ** -13, Math.abs(value) * 2 ** -9)),
    );
  });
  test("a depth channel beside the colour is read, or left and told of", async () => {
    const whole = await readExr("depth.exr", fixture("depth.exr"));
    expect(whole.z!.every((value) => value === 7.5)).toBe(true);
    const flat = await readExr("depth.exr", fixture("depth.exr"), { withoutDepth: true });
    expect([flat.z, flat.info.depthChannel]).toEqual([undefined, whole.info.depthChannel]);
    expect(flat.pixels.data).toEqual(whole.pixels.data);
  });
  test("a data window inside the display window is placed, black around it", async () => {
    const { width, height, pixels } = await readExr("window.exr", fixture("window.exr"));
    expect([width, height]).toEqual([60, 50]);
    expect(pixels.data[(3 * 60 + 4) * 4]).toBe(0);
    expect(pixels.data[(3 * 60 + 5 + 47) * 4]).toBeCloseTo(1, 3);
    expect(pixels.data[(42 * 60 + 5) * 4 + 2]).toBeCloseTo(8, 2);
  });
  test("a data window wholly outside the display window is refused", async () => {
    const bytes = Buffer.from(fixture("window.exr"));
    const at = bytes.indexOf("displayWindow\0box2i\0") + "displayWindow\0box2i\0".length + 4;
    [1000, 1000, 1059, 1049].forEach((value, i) => bytes.writeInt32LE(value, at + 4 * i));
    await expect(readExr("window.exr", bytes)).rejects.toThrow(/lies wholly outside its display window/);
  });
  test("a part is chosen by its name", async () => {
    const bytes = fixture("parts.exr");
    holdsPattern((await readExr("parts.exr", bytes)).pixels.data);
    holdsPattern((await readExr("parts.exr", bytes, { part: "right" })).pixels.data, 0.5);
    await expect(readExr("parts.exr", bytes, { part: "middle" })).rejects.toThrow(
      /has no part “middle”; it has left, right/,
    );
  });
  test("a layer and any depth channel are chosen by their names", async () => {
    const bytes = fixture("layers.exr");
    holdsPattern((await readExr("layers.exr", bytes)).pixels.data);
    const chosen = await readExr("layers.exr", bytes, { layer: "glow", depthChannel: "deep.near" });
    holdsPattern(chosen.pixels.data, 0.5);
    expect(chosen.z!.every((value) => value === 3)).toBe(true);
    await expect(readExr("layers.exr", bytes, { layer: "shine" })).rejects.toThrow(/has no layer “shine”/);
  });
});

test("halves: every half comes back, and floats round to the nearest", () => {
  const all = Float32Array.from({ length: 65536 }, (_, h) => halfToFloat(h)).filter((value) => Number.isFinite(value));
  const back = floatsToHalves(all);
  all.forEach((value, i) => expect(Object.is(halfToFloat(back[i]!), value)).toBe(true));
  fc.assert(
    fc.property(fc.float({ min: -60000, max: 60000, noNaN: true }), (value) => {
      const [half] = floatsToHalves(Float32Array.of(value));
      const step = Math.max(2 ** -24, 2 ** (Math.floor(Math.log2(Math.max(Math.abs(value), 2 ** -14))) - 10));
      expect(Math.abs(halfToFloat(half!) - value)).toBeLessThanOrEqual(step / 2);
    }),
  );
});

describe.each(WRITTEN)("what is written with %s", (compression) => {
  const data = Float32Array.from({ length: 75 * 41 * 4 }, (_, i) =>
    (i & 3) === 3 ? 1 : halfToFloat(0x2c00 + ((i * 7919) % 6000)),
  );
  const z = Float32Array.from({ length: 75 * 41 }, (_, i) => i / 3);
  test.each(["half", "float"] as const)("as %s is read back, depth and metadata too", async (depth) => {
    const image = await readExr(
      "mine.exr",
      await writeExr(
        { width: 75, height: 41, data, z },
        { depth, compression, text: { haloRecipe: "abc" }, framesPerSecond: 24000 / 1001, timeCode: "01:02:03:04" },
      ),
    );
    if (compression === "DWAA") {
      // A lossy compression: what it loses stays below what it aims at for noise this hard.
      const error = Math.sqrt(
        data.reduce((sum, value, i) => sum + (image.pixels.data[i]! - value) ** 2, 0) / data.length,
      );
      const power = Math.sqrt(data.reduce((sum, value) => sum + value ** 2, 0) / data.length);
      expect(error / power).toBeLessThan(0.01);
    } else expect(image.pixels.data).toEqual(data);
    expect(image.z).toEqual(z);
    expect(image.info).toMatchObject({ compression, timeCode: "01:02:03:04", text: { haloRecipe: "abc" } });
    expect(image.info.framesPerSecond).toBeCloseTo(23.976, 3);
    expect(image.info.tags.chromaticities![0]).toBeCloseTo(0.713, 6);
  });
});

test("a header that claims 60000 by 60000 pixels is refused before anything is allocated", async () => {
  const bytes = Buffer.from(fixture("half-zip.exr"));
  const at = bytes.indexOf("dataWindow\0box2i\0") + "dataWindow\0box2i\0".length + 4;
  bytes.writeInt32LE(59999, at + 8);
  bytes.writeInt32LE(59999, at + 12);
  const before = process.memoryUsage().arrayBuffers;
  await expect(readExr("huge.exr", bytes)).rejects.toThrow(
    /^huge\.exr: data window: 60000x60000 pixels is more than is taken in/,
  );
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(2 ** 24);
});

test("a file that is cut off says so", async () => {
  const bytes = fixture("half-zip.exr");
  await expect(readExr("cut.exr", bytes.subarray(0, bytes.length - 40))).rejects.toThrow(FileError);
  await expect(readExr("cut.exr", bytes.subarray(0, bytes.length - 40))).rejects.toThrow(
    /chunk 3 of 3 lies beyond the end/,
  );
});

test("how the lens was set and the sensor's size are written and read as the format's standard attributes", async () => {
  const lens = { focalLength: 50.5, stop: 2.8, focusDistance: 3.25, sensor: { width: 24.5, height: 13.75 } };
  const data = new Float32Array(8 * 4 * 4).fill(0.5);
  const bytes = await writeExr({ width: 8, height: 4, data }, { depth: "half", lens, timeCode: "01:02:03:04" });
  const { info } = await readExr("lens.exr", bytes);
  expect(info.lens!.stop).toBeCloseTo(2.8, 5);
  expect(info.lens).toMatchObject({ focalLength: 50.5, focusDistance: 3.25, sensor: lens.sensor });
  expect(info.timeCode).toBe("01:02:03:04");
  expect(
    (await readExr("plain.exr", await writeExr({ width: 8, height: 4, data }, { depth: "half" }))).info.lens,
  ).toBeUndefined();
});
