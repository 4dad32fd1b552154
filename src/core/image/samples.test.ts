import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { HALVES } from "../maths/half";
import { packSamples, unpackSamples } from "./samples";

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
  test("too few of them are no frame", () => {
    const { packed } = there(frameOf([[1, 2, 3, 1]]), true);
    expect(() => unpackSamples({ ...packed, width: 2 }, packed.data.buffer)).toThrow(/6 bytes are not 2x1 pixels/);
  });
});
