import fc from "fast-check";
import { expect, test } from "vitest";
import { floatToHalf } from "../../core/maths/half";
import { predict } from "./compression/bytes";
import { predictedLines } from "./write";

const MAX = { width: 9, height: 5 };
const picture = fc.record({
  width: fc.integer({ min: 1, max: MAX.width }),
  height: fc.integer({ min: 1, max: MAX.height }),
  values: fc.array(fc.float(), { minLength: 4 * MAX.width * MAX.height, maxLength: 4 * MAX.width * MAX.height }),
});

test("samples go to their predicted bytes in one going as by lines that are made and then taken apart", () => {
  fc.assert(
    fc.property(picture, ({ width, height, values }) => {
      const data = Float32Array.from(values);
      const bits = new Uint32Array(data.buffer);
      // Two channels of halves, and one of floats between them.
      const channels = [2, 1, 0].map((first) => ({ bits, stride: 4, first, isHalf: first !== 1 }));
      const top = height > 1 ? 1 : 0;
      const raw: number[] = [];
      for (let y = top; y < height; y++)
        for (const { first, isHalf } of channels)
          for (let x = 0; x < width; x++) {
            const at = (y * width + x) * 4 + first;
            const words = isHalf ? [floatToHalf(data[at]!)] : [bits[at]! & 0xffff, bits[at]! >>> 16];
            for (const word of words) raw.push(word & 255, word >> 8);
          }
      const fused = predictedLines(channels, width, top, height - top, 8 * width);
      expect(fused.equals(predict(Buffer.from(raw)))).toBe(true);
    }),
  );
});
