import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { floatsToHalves, halfToFloat } from "../../core/maths/half";
import { predict } from "./compression/bytes";
import { linesOf, openChunk } from "./lines";

const MAX = { width: 40, height: 5 };
const MAX_SAMPLES = 4 * MAX.width * MAX.height;

/** Bits of floats, any of them: numbers that are none, endless ones, and those between two halves. */
const bitsOfFloat = fc.oneof(
  fc.integer({ min: 0, max: 0xffffffff }),
  fc.tuple(fc.nat({ max: 0xffff }), fc.integer({ min: -2, max: 2 }), fc.boolean()).map(([half, beside, isMiddle]) => {
    const bits = new Uint32Array(Float32Array.of(halfToFloat(half)).buffer)[0]!;
    return (bits + beside + (isMiddle ? 0x1000 : 0)) >>> 0;
  }),
);
const picture = fc.record({
  width: fc.integer({ min: 1, max: MAX.width }),
  height: fc.integer({ min: 1, max: MAX.height }),
  bits: fc
    .array(bitsOfFloat, { minLength: MAX_SAMPLES, maxLength: MAX_SAMPLES })
    .map((values) => Uint32Array.from(values)),
});

/** Two channels of halves with one of floats between them, of RGBA; and a plane of floats. */
const channelsOf = (bits: Uint32Array, width: number, height: number) => [
  ...[2, 1, 0].map((first) => ({ bits, stride: 4, first, isHalf: first !== 1 })),
  { bits: bits.slice(0, width * height), stride: 1, first: 0, isHalf: false },
];

/** The lines byte by byte, as the format has them. */
function plainly(bits: Uint32Array, width: number, top: number, end: number, height: number): Buffer {
  const halves = floatsToHalves(new Float32Array(bits.buffer));
  const bytes: number[] = [];
  const put = (...words: number[]) => words.forEach((word) => bytes.push(word & 255, word >>> 8));
  for (let y = top; y < end; y++)
    for (const { bits: own, stride, first, isHalf } of channelsOf(bits, width, height))
      for (let x = 0; x < width; x++) {
        const at = (y * width + x) * stride + first;
        if (isHalf) put(halves[at]!);
        else put(own[at]! & 0xffff, own[at]! >>> 16);
      }
  return Buffer.from(bytes);
}

describe("lines of a chunk", () => {
  test("are what the format has them be, plain and predicted, whatever the floats are", () => {
    fc.assert(
      fc.property(picture, ({ width, height, bits }) => {
        const top = height > 1 ? 1 : 0;
        const plain = plainly(bits, width, top, height, height);
        const channels = channelsOf(bits, width, height);
        expect(linesOf({ channels, width, top, end: height }, false).equals(plain)).toBe(true);
        expect(linesOf({ channels, width, top, end: height }, true).equals(predict(plain))).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
  test("every half comes back as itself by its bits, with its sign, and is said to be finite or not", () => {
    const halves = Array.from({ length: 0x10000 }, (_, half) => half);
    const bytes = Buffer.from(Uint16Array.from(halves).buffer);
    const samples = openChunk({ bytes, isPredicted: false }, halves.length).takeSamples("half", 0);
    const wrong = halves.filter((half) => !Object.is(samples[half], halfToFloat(half)));
    expect(wrong).toEqual([]);
    const isFinite = (from: number, count: number) =>
      openChunk({ bytes: bytes.subarray(from * 2, (from + count) * 2), isPredicted: false }, count).takeColour(
        "half",
        0,
        0,
      );
    expect([isFinite(0, 0x7c00), isFinite(0x8000, 0x7c00)]).toEqual([true, true]);
    // One that is not, among those taken eight at a time and among those left over.
    expect([isFinite(0x7bf0, 0x11), isFinite(0x7bfc, 5), isFinite(0xfc00, 8)]).toEqual([false, false, false]);
  });
  test("what was made of samples gives them again, plain and predicted, as colours and as planes", () => {
    fc.assert(
      fc.property(picture, fc.boolean(), ({ width, height, bits }, isPredicted) => {
        const channels = channelsOf(bits, width, height);
        const bytes = linesOf({ channels, width, top: 0, end: height }, isPredicted);
        const open = openChunk({ bytes, isPredicted }, width);
        const wrong: number[] = [];
        for (let y = 0, at = 0; y < height; y++) {
          const row = bits.subarray(y * width * 4, (y + 1) * width * 4);
          const halves = floatsToHalves(new Float32Array(row.slice().buffer));
          const types = ["half", "float", "half"] as const;
          for (const [c, type] of types.entries()) {
            open.takeColour(type, at, 2 - c);
            at += type === "half" ? width : 2 * width;
          }
          for (let x = 0; x < width; x++) {
            const [red, green, blue, alpha] = open.pixels.subarray(x * 4);
            const isSame =
              Object.is(red, halfToFloat(halves[x * 4]!)) &&
              Object.is(green, new Float32Array(row.slice().buffer)[x * 4 + 1]) &&
              Object.is(blue, halfToFloat(halves[x * 4 + 2]!)) &&
              alpha === 1;
            if (!isSame) wrong.push(x);
          }
          const plane = open.takeSamples("uint", at);
          for (let x = 0; x < width; x++) if (plane[x] !== bits[y * width + x]) wrong.push(x);
          at += 2 * width;
        }
        expect(wrong).toEqual([]);
      }),
    );
  });
});
