import { describe, expect, test } from "vitest";
import { fixture, LDR, overPattern } from "../fixtures/pattern";
import { readDpx, writeDpx } from "./dpx";
import { PACKINGS } from "./layout";

describe("files of an independent tool", () => {
  test.each([
    "8-little",
    "8-big",
    "10-little",
    "10-big",
    "12-little",
    "12-big",
    "16-little",
    "16-big",
    "10-packed",
    "10-filledmethoda",
    "10-filledmethodb",
    "12-packed",
    "12-filledmethoda",
    "12-filledmethodb",
  ])("%s holds the pattern", (name) => {
    const image = readDpx(`${name}.dpx`, fixture(`${name}.dpx`));
    const bits = name.split("-")[0]!;
    expect([image.width, image.height, image.pixels.depth]).toEqual([48, 40, bits]);
    const top = 2 ** Number(bits) - 1;
    overPattern(LDR, (at, wanted) => expect(Math.abs(image.pixels.data[at]! - wanted * top)).toBeLessThan(1.01));
    expect(image.pixels.data[3]).toBe(top);
  });
  test("alpha is read", () => {
    const { data } = readDpx("rgba.dpx", fixture("rgba.dpx")).pixels;
    expect([data[3], data[47 * 4 + 3], data[(39 * 48 + 47) * 4 + 3]]).toEqual([1023, 512, 0]);
  });
});

describe.each(["8", "10", "12", "16"] as const)("%s bits", (depth) => {
  const top = 2 ** Number(depth) - 1;
  const [width, height] = [37, 5];
  const codes = (alpha: boolean) =>
    Float32Array.from({ length: width * height * 4 }, (_, i) =>
      (i & 3) === 3 ? (alpha ? ((i * 31) % (top + 1)) / top : 1) : ((i * 7919) % (top + 1)) / top,
    );
  test.each([
    ["big", true],
    ["big", false],
    ["little", true],
    ["little", false],
  ] as const)("written %s-endian (alpha: %s) and read back code for code, in every packing", (byteOrder, alpha) => {
    for (const packing of PACKINGS) {
      const data = codes(alpha);
      const image = readDpx(
        "mine.dpx",
        writeDpx(
          { width, height, data },
          {
            depth,
            byteOrder,
            packing,
            framesPerSecond: 25,
            timeCode: "10:20:30:12",
            text: { haloRecipe: "abc" },
            tags: { dpx: { transfer: 1, colorimetric: 6 } },
          },
        ),
      );
      data.forEach((code, i) => expect(image.pixels.data[i]).toBe(Math.round(code * top)));
      expect(image.info).toMatchObject({
        framesPerSecond: 25,
        timeCode: "10:20:30:12",
        byteOrder,
        text: { recipe: "abc" },
        tags: { dpx: { transfer: 1, colorimetric: 6 } },
      });
    }
  });
});

test("a cut or empty file says what is wrong", () => {
  const bytes = fixture("10-big.dpx");
  expect(() => readDpx("cut.dpx", bytes.subarray(0, bytes.length - 10))).toThrow(/cut\.dpx: the file ends at byte/);
  expect(() => readDpx("no.dpx", Buffer.from("nothing"))).toThrow(/no\.dpx: is not a DPX file/);
});

test.each([
  [0, 2, 3, ["a", "b", "c", "d", "e", "f"]],
  [1, 2, 3, ["b", "a", "d", "c", "f", "e"]],
  [2, 2, 3, ["e", "f", "c", "d", "a", "b"]],
  [3, 2, 3, ["f", "e", "d", "c", "b", "a"]],
  [4, 3, 2, ["a", "c", "e", "b", "d", "f"]],
  [5, 3, 2, ["e", "c", "a", "f", "d", "b"]],
  [6, 3, 2, ["b", "d", "f", "a", "c", "e"]],
  [7, 3, 2, ["f", "d", "b", "e", "c", "a"]],
  [0xffff, 2, 3, ["a", "b", "c", "d", "e", "f"]],
] as const)(
  "image orientation %d: three lines of two pixels stand as it says",
  (orientation, width, height, wanted) => {
    const data = new Float32Array(6 * 4).fill(1);
    for (let i = 0; i < 6; i++) data.fill(i / 255, 4 * i, 4 * i + 3);
    const bytes = writeDpx({ width: 2, height: 3, data }, { depth: "8" });
    bytes.writeUInt16BE(orientation, 768);
    const image = readDpx("turned.dpx", bytes);
    expect([image.width, image.height]).toEqual([width, height]);
    expect(wanted.map((_, i) => "abcdef"[image.pixels.data[4 * i]!])).toEqual(wanted);
  },
);
