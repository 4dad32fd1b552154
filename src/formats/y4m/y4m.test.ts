import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { fixture, LDR, overPattern } from "../fixtures/pattern";
import { gunzipSync, gzipSync } from "node:zlib";
import { loadImage, readImage } from "../formats";
import { readPackedY4m, writePackedY4m } from "./packed";
import { readY4m, y4mFrame, y4mHead, type Y4mOptions } from "./y4m";

/** The fixtures are 40 lines high, for which BT.601 would be taken; they were made with BT.709. */
const tagged = (bytes: Buffer) =>
  Buffer.concat([
    bytes.subarray(0, bytes.indexOf(0x0a)),
    Buffer.from(" XHALOMATRIX=BT709"),
    bytes.subarray(bytes.indexOf(0x0a)),
  ]);

test.each([
  ["444", 8, 3.7],
  ["422", 8, 3.7],
  ["420", 8, 3.7],
  ["444-10", 10, 5.5],
  ["422-10", 10, 5.5],
  ["420-10", 10, 5.5],
] as const)("%s.y4m of an independent tool holds the pattern within the tool's own rounding", (name, bits, close) => {
  const image = readY4m(`${name}.y4m`, tagged(fixture(`${name}.y4m`)));
  expect(image.info.depth).toBe(String(bits));
  // Halved chroma cannot hold the frame's last column and row; inside, the pattern is linear and chroma is exact.
  const step = close / 2 ** bits;
  overPattern(LDR, (at, wanted) => {
    const [x, y] = [(at >> 2) % 48, Math.floor((at >> 2) / 48)];
    const inside = x > 0 && y > 0 && x < 47 && y < 39;
    if (inside || name.startsWith("444")) expect(Math.abs(image.pixels.data[at]! - wanted)).toBeLessThan(step);
  });
});

describe("code values", () => {
  const layout = (bits: number, full: boolean) =>
    Buffer.from(
      `YUV4MPEG2 W2 H2 F25:1 Ip C444${bits > 8 ? `p${bits}` : ""} XCOLORRANGE=${full ? "FULL" : "LIMITED"} XHALOMATRIX=BT709\nFRAME\n`,
    );
  test.each([
    [8, false, 16, 235, 128],
    [8, true, 0, 255, 128],
    [10, false, 64, 940, 512],
    [10, true, 0, 1023, 512],
  ] as const)(
    "%d bits, full range %s: black and white stand where H.273 puts them, and what lies beyond is kept",
    (bits, full, black, white, middle) => {
      const plane = (values: number[]) =>
        bits > 8 ? Buffer.from(Uint16Array.from(values).buffer) : Buffer.from(values);
      const bytes = Buffer.concat([
        layout(bits, full),
        plane([black, white, black, white]),
        plane(Array(4).fill(middle)),
        plane(Array(4).fill(middle)),
      ]);
      const { data } = readY4m("x.y4m", bytes).pixels;
      for (let c = 0; c < 3; c++) {
        expect(data[c]).toBeCloseTo(0, 6);
        expect(data[4 + c]).toBeCloseTo(1, 6);
      }
      if (!full) {
        const beyond = Buffer.concat([
          layout(bits, full),
          plane([2 ** bits - 1, 0, 0, 0]),
          plane(Array(4).fill(middle)),
          plane(Array(4).fill(middle)),
        ]);
        expect(readY4m("x.y4m", beyond).pixels.data[0]).toBeGreaterThan(1.08);
        expect(readY4m("x.y4m", beyond).pixels.data[4]).toBeLessThan(-0.07);
      }
    },
  );
  test.each([
    ["8", "444"],
    ["10", "444"],
  ] as const)("%s bits %s: read and written again, every sample is what it was", (depth, chroma) => {
    const top = 2 ** Number(depth);
    const [width, height] = [33, 9];
    const samples = Array.from({ length: width * height * 3 }, (_, i) =>
      Math.floor(top * (0.12 + 0.7 * (((i * 7919) % 1000) / 1000))),
    );
    const options: Y4mOptions = { chroma, depth, framesPerSecond: 30000 / 1001, matrix: "bt709" };
    const payload = depth === "8" ? Buffer.from(samples) : Buffer.from(Uint16Array.from(samples).buffer);
    const bytes = Buffer.concat([y4mHead({ width, height }, options), Buffer.from("FRAME\n"), payload]);
    const image = readY4m("x.y4m", bytes);
    expect(image.info.framesPerSecond).toBeCloseTo(29.97, 2);
    expect(
      y4mFrame({ width, height, data: image.pixels.data as Float32Array }, options)
        .subarray(6)
        .equals(payload),
    ).toBe(true);
  });
});

test("frames of one file are found by their number, and one too many is refused", async () => {
  const options: Y4mOptions = { chroma: "420", depth: "8", framesPerSecond: 24 };
  const frame = (level: number) =>
    y4mFrame({ width: 16, height: 10, data: new Float32Array(640).fill(level) }, options);
  const path = join(mkdtempSync(join(tmpdir(), "halo-y4m-")), "a.y4m");
  writeFileSync(path, Buffer.concat([y4mHead({ width: 16, height: 10 }, options), frame(0), frame(0.5), frame(1)]));
  const second = await loadImage(path, { frame: 1 });
  expect(second.pixels.data[0]).toBeCloseTo(0.5, 2);
  expect(second.info.frames).toBe(3);
  await expect(loadImage(path, { frame: 3 })).rejects.toThrow(/has 3 frames; frame 4 is asked for/);
});

describe("a frame packed by gzip", () => {
  test("is the frame that gzip itself packed, and gunzip makes the plain file of what is written", async () => {
    const [packed, plain] = await Promise.all(
      ["422-10.y4m.gz", "422-10.y4m"].map((name) => readImage(name, fixture(name))),
    );
    expect(packed!.pixels.data).toEqual(plain!.pixels.data);
    const options: Y4mOptions = { chroma: "444", depth: "10", matrix: "bt709" };
    const picture = { width: 48, height: 40, data: plain!.pixels.data as Float32Array };
    const written = Buffer.concat([y4mHead(picture, options), y4mFrame(picture, options)]);
    expect(gunzipSync(await writePackedY4m(picture, options)).equals(written)).toBe(true);
  });
  test("that is cut off, too large or something else is refused by name", async () => {
    const bytes = fixture("422-10.y4m.gz");
    const refusal = (made: Buffer) => readImage("a.0001.y4m.gz", made).catch((error: Error) => error.message);
    expect(await refusal(bytes.subarray(0, -20))).toBe("a.0001.y4m.gz: is damaged: gzip cannot unpack it");
    expect(await refusal(gzipSync(Buffer.from("tar")))).toBe("a.0001.y4m.gz: is not a YUV4MPEG2 file");
    const large = gzipSync(Buffer.alloc(2 ** 20));
    await expect(readPackedY4m("a.0001.y4m.gz", large, {}, 2 ** 19)).rejects.toThrow("is larger than 0.5 MiB unpacked");
  });
});
