import { mkdtempSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { describe, expect, test } from "vitest";
import { fixture } from "./fixtures/pattern";
import { FORMATS, loadImage, readImage } from "./formats";

const folder = mkdtempSync(join(tmpdir(), "halo-bounds-"));

describe("a file is what its bytes say", () => {
  const samples = {
    exr: "half-zip.exr",
    dpx: "10-big.dpx",
    png: "eight.png",
    tif: "eight.tif",
    jpg: "eight.jpg",
    y4m: "420.y4m",
  };
  test.each(Object.entries(samples))("%s is not read as anything else", async (extension, name) => {
    const bytes = fixture(name);
    expect(FORMATS.filter(({ begins }) => begins(bytes)).map(({ extensions }) => extensions[0])).toEqual([
      `.${extension}`,
    ]);
    for (const other of Object.keys(samples).filter((entry) => entry !== extension))
      await expect(readImage(`a.${other}`, bytes)).rejects.toThrow(
        /^a\.\w+: is not an? .+ file; its bytes are those of /,
      );
  });
  test("drawings, and kinds that the picture library could load besides, are not handed to it", async () => {
    const webp = await sharp({ create: { width: 4, height: 4, channels: 3, background: "#f00" } })
      .webp()
      .toBuffer();
    // Once a picture was read, the library itself loads nothing else.
    await readImage("eight.png", fixture("eight.png"));
    for (const bytes of [Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'), webp]) {
      await expect(readImage("a.png", bytes)).rejects.toThrow(/^a\.png: is not a PNG file$/);
      await expect(sharp(bytes).metadata()).rejects.toThrow(/unsupported/);
    }
  });
});

test("a JPEG of very many scans is refused before it is decoded; one of a dozen is not", async () => {
  const image = sharp({ create: { width: 64, height: 64, channels: 3, background: "#a43" } });
  const progressive = await image.jpeg({ progressive: true }).toBuffer();
  expect((await readImage("a.jpg", progressive)).width).toBe(64);
  const scan = progressive.subarray(progressive.lastIndexOf(Buffer.of(0xff, 0xda)), -2);
  const many = Buffer.concat([
    progressive.subarray(0, -2),
    ...Array.from({ length: 1500 }, () => scan),
    Buffer.of(0xff, 0xd9),
  ]);
  await expect(readImage("a.jpg", many)).rejects.toThrow(/^a\.jpg: cannot be read: has more than 64 scans/);
});

describe("an EXR", () => {
  const bytes = fixture("half-zips.exr");
  /** The table of chunks stands where its first entry leads to the byte after it. */
  const tableAt = () => {
    for (let at = 8; at < bytes.length - 8; at++) if (bytes.readBigUInt64LE(at) === BigInt(at + 40 * 8)) return at;
    throw new Error("the fixture has no table");
  };
  test("whose table leads to one chunk again and again is refused", async () => {
    const damaged = Buffer.from(bytes);
    for (let i = 1; i < 40; i++) bytes.copy(damaged, tableAt() + i * 8, tableAt(), tableAt() + 8);
    await expect(readImage("a.exr", damaged)).rejects.toThrow(
      /chunk 2 of 40 is where another one is; the table is damaged/,
    );
  });
  test("whose channels times size are more than is read is refused before anything is unpacked", async () => {
    const damaged = Buffer.from(bytes);
    const window = (name: string) => damaged.indexOf(`${name}\0box2i\0`) + name.length + 1 + 6 + 4;
    const channels = damaged.indexOf("channels\0chlist\0") + 16;
    const size = damaged.readInt32LE(channels);
    const one = damaged.subarray(channels + 4, channels + 4 + size - 1);
    const list = Buffer.concat([...Array.from({ length: 200 }, () => one), Buffer.of(0)]);
    const head = Buffer.alloc(4);
    head.writeInt32LE(list.length);
    for (const name of ["dataWindow", "displayWindow"]) {
      damaged.writeInt32LE(8191, window(name) + 8);
      damaged.writeInt32LE(8191, window(name) + 12);
    }
    const wide = Buffer.concat([
      damaged.subarray(0, channels),
      head,
      list,
      damaged.subarray(channels + 4 + size),
      Buffer.alloc(70_000),
    ]);
    await expect(readImage("a.exr", wide)).rejects.toThrow(
      /channels of 8192x8192 pixels are \d+ MiB; 4096 MiB are read/,
    );
  });
});

describe("only ordinary files are read", () => {
  test.each([["/dev/zero"], ["/proc"], [folder]])("%s is not one, whatever it is called", async (target) => {
    const link = join(folder, `link-${target.replaceAll("/", "-")}.exr`);
    symlinkSync(target, link);
    await expect(loadImage(link)).rejects.toThrow(/is no ordinary file$/);
  });
  test("an empty one, and one of another kind, are named before they are read", async () => {
    writeFileSync(join(folder, "empty.exr"), "");
    await expect(loadImage(join(folder, "empty.exr"))).rejects.toThrow(/^empty\.exr: is empty$/);
    writeFileSync(join(folder, "a.txt"), "x");
    await expect(loadImage(join(folder, "a.txt"))).rejects.toThrow(/is of a kind that is not read/);
  });
});
