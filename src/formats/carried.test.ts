import { describe, expect, test } from "vitest";
import { NO_OVERSCAN } from "../core/image/overscan";
import { readDpx, writeDpx } from "./dpx/dpx";
import { dpxFields } from "./dpx/fields";
import { AT, ELEMENT, HEADER_BYTES, TEXT_FIELDS } from "./dpx/layout";
import { attributeValue } from "./exr/attributes";
import { readExr } from "./exr/read";
import { layersToWrite, writeExr } from "./exr/write";
import { fixture } from "./fixtures/pattern";
import type { Decoded } from "./format";
import { formatOf, readImage } from "./formats";
import { lossesOf, textCarried } from "./losses";
import { aspectOf, densityOf } from "./raster/aspect";

/** The fixture as `convert` writes it: its light, its layers, and all that its header says. */
async function exrAgain(image: Decoded): Promise<Decoded> {
  const { info, layers, width, height, pixels } = image;
  const { dataWindow: data, displayWindow: display } = info;
  const bytes = await writeExr(
    { width, height, data: pixels.data as Float32Array, layers, hasAlpha: false },
    { ...info, depth: "half", primaries: null, windows: { data: data!, display: display! }, compression: "PIZ" },
  );
  return readExr("again.exr", bytes, { overscan: "all", layers: true });
}

describe("OpenEXR to OpenEXR", () => {
  const whole = () => readExr("carried.exr", fixture("carried.exr"), { overscan: "all", layers: true });

  test("every field of every type goes on, names over 31 characters, time code's bits and all", async () => {
    const [before, after] = [await whole(), await exrAgain(await whole())];
    const fields = ({ info }: Decoded) =>
      Object.fromEntries(info.attributes!.map((one) => [one.name, attributeValue(one)]));
    const { compression: _, channels: __, type: ___, ...said } = fields(before);
    expect(fields(after)).toMatchObject(said);
    expect(fields(after)).toMatchObject({
      camCount: 7,
      worldToCamera: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 3, 4, 5, 1],
      keyCode: { film: 1, perforationsPerCount: 64 },
      framesPerSecond: "24000/1001",
      aVeryLongAttributeNameThatIsOverThirtyOne: "yes it is",
      pixelAspectRatio: 2,
    });
    expect((fields(after).timeCode as { user: number }).user).toBe(0x77);
    // The nominal focal length is not said again as the effective one.
    expect(fields(after)).not.toHaveProperty("effectiveFocalLength");
    expect(after.info.lens).toEqual(before.info.lens);
  });

  test("windows, layers and light are the same, and no alpha is made up", async () => {
    const [before, after] = [await whole(), await exrAgain(await whole())];
    expect([after.info.dataWindow, after.info.displayWindow]).toEqual([
      { left: -6, top: -4, right: 25, bottom: 15 },
      { left: 0, top: 0, right: 19, bottom: 11 },
    ]);
    expect(after.info.channels).toEqual(["B", "G", "N.X", "N.Z", "R", "matte.R"]);
    expect(after.layers).toEqual(before.layers);
    expect(after.pixels.data).toEqual(before.pixels.data);
  });

  test("a name stands once: what is said of the picture goes before what is carried", async () => {
    const { info } = await whole();
    const bytes = await writeExr(
      { width: 1, height: 1, data: Float32Array.of(1, 1, 1, 1) },
      {
        depth: "half",
        attributes: info.attributes,
        timeCode: "01:02:03:04",
        framesPerSecond: 24,
        text: { chromaticities: "of old", reelName: "B002" },
      },
    );
    const again = await readExr("again.exr", bytes);
    const names = again.info.attributes!.map(({ name }) => name);
    expect(new Set(names).size).toBe(names.length);
    expect(again.info).toMatchObject({ timeCode: "01:02:03:04", framesPerSecond: 24, text: { reelName: "B002" } });
    expect(again.info.tags.chromaticities).toHaveLength(8);
  });
});

describe("DPX to DPX", () => {
  const picture = { width: 48, height: 40, data: new Float32Array(4 * 48 * 40).fill(1) };
  /** What is the file's own: its sizes, its samples, who wrote it. */
  const OWN: [number, number][] = [
    [AT.imageOffset, 4],
    [AT.fileSize, 4],
    [24, 12],
    [AT.creator, 100],
    [AT.element, ELEMENT.imagePadding + 4],
  ];

  test("film and television fields and the project go on as they stand", () => {
    const header = fixture("carried.dpx").subarray(0, HEADER_BYTES);
    const { info } = readDpx("carried.dpx", fixture("carried.dpx"));
    const again = writeDpx(picture, { ...info, depth: "10" }).subarray(0, HEADER_BYTES);
    const others = (bytes: Buffer) => {
      const copy = Buffer.from(bytes);
      for (const [at, length] of OWN) copy.fill(0, at, at + length);
      return copy;
    };
    expect(others(again).equals(others(header))).toBe(true);
    expect(again.toString("latin1", 1764, 1777)).toBe("TL-010 take 3");
  });

  test("fields are told by their names, and what is undefined is not told", () => {
    const { info } = readDpx("carried.dpx", fixture("carried.dpx"));
    expect(dpxFields(info.dpxHeader!)).toMatchObject({
      slate: "TL-010 take 3",
      framePosition: 12,
      shutterAngle: 172.8,
      project: "TL-010.0012",
      width: 48,
      bits: 10,
    });
    const bare = readDpx("bare.dpx", writeDpx(picture, { depth: "10" })).info.dpxHeader!;
    expect(Object.keys(dpxFields(bare)).filter((name) => /film|Rate|slate|Aspect|timeCode|gamma/i.test(name))).toEqual(
      [],
    );
  });

  test("somebody else's user data go on by their size, and the picture begins behind them", () => {
    const { info } = readDpx("carried.dpx", fixture("carried.dpx"));
    const user = Buffer.from(`${"Other maker".padEnd(32, "\0")}what they say${"x".repeat(500)}`);
    const dpxHeader = {
      ...info.dpxHeader!,
      bytes: Buffer.concat([info.dpxHeader!.bytes.subarray(0, HEADER_BYTES), user]),
    };
    const bytes = writeDpx(picture, { ...info, depth: "10", dpxHeader, text: { haloRecipe: "abc" } });
    // The file is little-endian, and stays so.
    expect(bytes.readUInt32LE(32)).toBe(user.length);
    expect(bytes.subarray(HEADER_BYTES, HEADER_BYTES + user.length).equals(user)).toBe(true);
    const again = readDpx("again.dpx", bytes);
    expect([again.width, (again.pixels.data as Uint16Array)[0]]).toEqual([48, 1023]);
  });

  test("of nothing, fields are undefined as the standard has it; pixel aspect is said where it is known", () => {
    const bytes = writeDpx(picture, { depth: "10", pixelAspect: 2 });
    expect([bytes.readUInt32BE(AT.pixelAspect), bytes.readUInt32BE(AT.pixelAspect + 4)]).toEqual([2, 1]);
    expect(writeDpx(picture, { depth: "10" }).readUInt32BE(AT.pixelAspect)).toBe(0xffffffff);
    for (const at of [AT.filmFrame, AT.filmRate, AT.timeCode, 1728, 1948])
      expect(bytes.readUInt32BE(at)).toBe(0xffffffff);
    const filled = TEXT_FIELDS.filter(([at]) => at !== AT.creator).filter(([at, length]) =>
      bytes.subarray(at, at + length).some((byte) => byte !== 0),
    );
    expect(filled).toEqual([]);
    expect(readDpx("again.dpx", bytes).info.pixelAspect).toBe(2);
  });
});

describe("what does not go on is named", () => {
  const EVERYTHING = { left: Infinity, top: Infinity, right: Infinity, bottom: Infinity };
  const carried = async () => (await readExr("carried.exr", fixture("carried.exr"))).info;
  const LAYERS = [{ name: "N.X" }, { name: "N.Z" }, { name: "matte.R" }];

  test("of an EXR nothing; and what was left of its layers and its light beyond the frame", async () => {
    const info = await carried();
    expect(lossesOf(info, { output: "x.exr", overscan: EVERYTHING, layers: LAYERS })).toEqual([]);
    expect(lossesOf(info, { output: "x.exr", overscan: NO_OVERSCAN, layers: [{ name: "matte.R" }] })).toEqual([
      "layers N.X, N.Z",
      "light beyond the frame",
    ]);
    // It has 6 px on the left and right, and 4 above and below.
    const some = { left: 4, top: 4, right: 4, bottom: 4 };
    expect(lossesOf(info, { output: "x.exr", overscan: some, layers: LAYERS })).toEqual([
      "light more than 4 px beyond the frame",
    ]);
  });

  test("where it becomes another format, what that has no place for", async () => {
    const info = await carried();
    const none = { overscan: NO_OVERSCAN, layers: [] };
    const png = lossesOf(info, { output: "x.png", ...none });
    expect(png.slice(0, 5)).toEqual([
      "layers N.X, N.Z, matte.R",
      "light beyond the frame",
      "time code 18:36:31:32",
      "reel A001",
      "frame rate",
    ]);
    expect(png[5]).toMatch(/^fields .*worldToCamera/);
    expect(lossesOf(info, { output: "x.dpx", ...none }).join()).not.toMatch(/time code|frame rate|aspect/);
    const mov = lossesOf(info, { output: "x.mov", ...none });
    expect(mov.join()).not.toMatch(/time code|reel|frame rate|aspect/);
    expect(lossesOf(info, { output: "x.mxf", ...none })).toContain("reel A001");
  });

  test("of a file with several parts and layers, those that were not chosen", async () => {
    const parts = await readExr("parts.exr", fixture("parts.exr"), {});
    const others = parts.info.parts!.map(({ name }) => name).filter((name) => name !== parts.info.chosen!.part);
    const all = { output: "x.exr", overscan: EVERYTHING, layers: parts.info.channels.map((name) => ({ name })) };
    expect(others.length).toBeGreaterThan(0);
    expect(lossesOf(parts.info, all)).toContain(`parts ${others.join(", ")}`);
    const one = await readExr("layers.exr", fixture("layers.exr"), { layers: true, layer: "glow" });
    // The bare picture's channels have no room beside those of the layer that takes their names.
    const written = layersToWrite({ layers: one.layers, z: one.z }, one.alpha !== undefined);
    expect(lossesOf(one.info, { output: "x.exr", overscan: EVERYTHING, layers: written }).join()).toMatch(
      /layers .*\bR\b/,
    );
  });
});

describe("several parts", () => {
  const whole = () => readExr("parts.exr", fixture("parts.exr"), { layers: true });
  const again = async (image: Decoded, more: Partial<Parameters<typeof writeExr>[1]> = {}) => {
    const { info, layers, width, height, pixels } = image;
    const picture = { width, height, data: pixels.data as Float32Array, layers };
    return writeExr(picture, { ...info, depth: "half", primaries: null, compression: "ZIP", ...more });
  };

  test("all of them go on, each with its channels and its own fields, and nothing is lost", async () => {
    const before = await whole();
    const bytes = await again(before);
    const after = await readExr("again.exr", bytes, { layers: true });
    expect(after.info.parts!.map(({ name, channels }) => [name, channels])).toEqual(
      before.info.parts!.map(({ name, channels }) => [name, channels]),
    );
    expect(after.pixels.data).toEqual(before.pixels.data);
    expect(after.layers).toEqual(before.layers);
    expect(before.layers!.every(({ part }) => part === "right")).toBe(true);
    const right = await readExr("again.exr", bytes, { part: "right" });
    expect(right.pixels.data).toEqual(
      (await readExr("parts.exr", fixture("parts.exr"), { part: "right" })).pixels.data,
    );
    const everything = { left: 0, top: 0, right: 0, bottom: 0 };
    expect(lossesOf(before.info, { output: "x.exr", overscan: everything, layers: before.layers! })).toEqual([]);
  });

  test.each(["none", "ZIPS", "PIZ"] as const)("in %s, and of another part than the first", async (compression) => {
    const before = await readExr("parts.exr", fixture("parts.exr"), { layers: true, part: "right" });
    const after = await readExr("again.exr", await again(before, { compression }), { layers: true });
    expect(after.info.chosen).toEqual({ part: "right", layer: "" });
    expect([after.pixels.data, after.layers]).toEqual([before.pixels.data, before.layers]);
  });
});

describe("between formats", () => {
  const picture = { width: 8, height: 6, data: new Float32Array(4 * 48).fill(1) };
  const notes = { comment: "rim light moved", author: "second unit", date: "2026:02:03 04:05:06" };

  test.each([".png", ".tif"])("notes and pixels that are not square go into %s and come back", async (extension) => {
    const bytes = await formatOf(`x${extension}`)!.encode(picture, { depth: "16", notes, pixelAspect: 1.5 });
    const { info } = await readImage(`x${extension}`, bytes);
    expect(info).toMatchObject({ notes, pixelAspect: 1.5 });
    expect(lossesOf(info, { output: "x.exr", overscan: NO_OVERSCAN, layers: [] })).toEqual([]);
    const exr = await formatOf("x.exr")!.encode(picture, { ...info, depth: "half" });
    expect((await readImage("x.exr", exr)).info).toMatchObject({ notes, pixelAspect: 1.5 });
  });

  test("a JPEG says how wide its pixels are; what notes it has no place for are named", async () => {
    const bytes = await formatOf("x.jpg")!.encode(picture, { depth: "8", pixelAspect: 2 });
    expect((await readImage("x.jpg", bytes)).info.pixelAspect).toBe(2);
    const png = await formatOf("x.png")!.encode(picture, { depth: "8", notes, text: { Scene: "TL-010" } });
    const { info } = await readImage("x.png", png);
    const lost = (output: string) => lossesOf(info, { output, overscan: NO_OVERSCAN, layers: [] });
    expect(lost("x.jpg")).toEqual(["comment", "author", "date", "fields Scene"]);
    expect([lost("x.png"), lost("x.exr"), lost("x.tif")]).toEqual([[], [], ["fields Scene"]]);
    expect(textCarried("x.png", "x.exr", info.text)).toEqual({ Scene: "TL-010" });
    expect(textCarried("x.exr", "x.png", { Scene: "TL-010" })).toEqual({});
  });

  test("squares that a scanner measured, and what is no aspect at all, are taken as square", () => {
    expect([aspectOf([300, 300]), aspectOf([72, 72.1]), aspectOf([1, 600]), aspectOf([0, 1])]).toEqual(
      Array(4).fill(undefined),
    );
    expect([aspectOf([100, 200]), aspectOf(densityOf(1.3333))]).toEqual([2, 1.3333]);
  });
});
