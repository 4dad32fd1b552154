import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { HALVES } from "../maths/half";
import { encodingByName, type EncodingName } from "../colour/encodings";
import { codesOf } from "./codes";
import { decodeImage } from "./decode";
import { type Pixels, topOf, type WholeDepth } from "./image";
import { bytesOfSamples, packCodes, packSamples, unpackSamples } from "./samples";

const frameOf = (pixels: number[][]) => ({
  width: pixels.length,
  height: 1,
  data: Float32Array.from(pixels.flat()),
});
const there = (frame: ReturnType<typeof frameOf>, isHalf: boolean) => {
  const packed = packSamples(frame, isHalf);
  return { packed, back: unpackSamples(packed, packed.data.buffer) };
};
/** Bits, so that 0 and -0 are told apart. */
const bits = (data: Float32Array) => [...new Uint32Array(data.buffer, data.byteOffset, data.length)];

const half = fc
  .integer({ min: 0, max: 0xffff })
  .map((code) => HALVES[code]!)
  .filter(Number.isFinite);
const float = fc.float({ noNaN: true, noDefaultInfinity: true });

describe("samples come back bit for bit", () => {
  test("halves as halves, with and without alpha, in the fewest bytes", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(half, half, half, half), { minLength: 1, maxLength: 40 }),
        fc.boolean(),
        (pixels, opaque) => {
          const frame = frameOf(pixels.map(([r, g, b, a]) => [r, g, b, opaque ? 1 : a]));
          const { packed, back } = there(frame, true);
          expect(bits(back)).toEqual(bits(frame.data));
          const isOpaque = frame.data.every((value, i) => i % 4 < 3 || value === 1);
          expect(packed.data.byteLength).toBe(pixels.length * (isOpaque ? 6 : 8));
        },
      ),
    );
  });
  test("floats as floats", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(float, float, float), { minLength: 1, maxLength: 40 }),
        fc.boolean(),
        (pixels, opaque) => {
          const frame = frameOf(pixels.map((rgb, i) => [...rgb, opaque ? 1 : i / 7]));
          const { packed, back } = there(frame, false);
          expect(bits(back)).toEqual(bits(frame.data));
          expect(packed.channels).toBe(opaque ? 3 : 4);
        },
      ),
    );
  });
  test("whole numbers of every depth as themselves, in every kind of encoding: the light that reading gives", () => {
    const depths: WholeDepth[] = ["8", "10", "12", "16"];
    const encodings: EncodingName[] = ["srgb", "rec709", "pq", "acescct", "log-film", "linear-rec709", "linear-ap1"];
    const pixels = fc.array(fc.tuple(...[0, 1, 2, 3].map(() => fc.integer({ min: 0, max: 0xffff }))), { minLength: 1 });
    fc.assert(
      fc.property(
        fc.constantFrom(...depths),
        fc.constantFrom(...encodings),
        pixels,
        fc.boolean(),
        (depth, name, all, opaque) => {
          const top = topOf(depth);
          const codes = all.flatMap((pixel) => pixel.map((code, c) => (c === 3 && opaque ? top : code % (top + 1))));
          const data = depth === "8" ? Uint8Array.from(codes) : Uint16Array.from(codes);
          const image = { width: all.length, height: 1, pixels: { depth, data } as Pixels };
          const packed = packCodes(codesOf(image, encodingByName(name))!);
          const bytes = Buffer.concat(bytesOfSamples(packed));
          const back = unpackSamples(packed, bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
          expect(bits(back)).toEqual(bits(decodeImage(image, encodingByName(name)).frame.data));
          const isOpaque = codes.every((code, i) => i % 4 < 3 || code === top);
          expect(packed.data.byteLength).toBe(all.length * (isOpaque ? 3 : 4) * (depth === "8" ? 1 : 2));
        },
      ),
      { numRuns: 60 },
    );
  });
  test("light of a code value is its encoding's, to a float's rounding", () => {
    const codes = Uint8Array.from([0, 0, 0, 255, 128, 128, 128, 255, 255, 255, 255, 255]);
    const image = { width: 3, height: 1, pixels: { depth: "8", data: codes } as Pixels };
    const { frame } = decodeImage(image, encodingByName("srgb"));
    // IEC 61966-2-1: code 128 of 255 is 0.215861 of the white's light; grey is grey in any primaries.
    [0, 0.2158605, 1].forEach((light, pixel) => {
      for (let c = 0; c < 3; c++) expect(frame.data[pixel * 4 + c]).toBeCloseTo(light, 5);
    });
  });
  test("too few of them are no frame", () => {
    const { packed } = there(frameOf([[1, 2, 3, 1]]), true);
    expect(() => unpackSamples({ ...packed, width: 2 }, packed.data.buffer)).toThrow(/6 bytes are not 2x1 pixels/);
  });
});
