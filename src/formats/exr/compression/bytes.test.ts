import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { expandRuns, packRuns, predict, reconstruct, unpredict } from "./bytes";

/** Bytes that begin anywhere in their memory, as chunks of a file do. */
const somewhere = fc.tuple(fc.uint8Array({ maxLength: 400 }), fc.nat({ max: 7 })).map(([bytes, offset]) => {
  const room = Buffer.from(new ArrayBuffer(bytes.length + offset));
  room.set(bytes, offset);
  return room.subarray(offset);
});

describe("what compressions share", () => {
  test("the predictor is undone as the format describes it: each byte is the one before plus its difference less 128", () => {
    fc.assert(
      fc.property(somewhere, (bytes) => {
        const wanted = [...bytes];
        for (let i = 1; i < wanted.length; i++) wanted[i] = (wanted[i - 1]! + wanted[i]! - 128 + 256) % 256;
        expect([...unpredict(bytes)]).toEqual(wanted);
      }),
      { numRuns: 500 },
    );
  });
  test("what is split and predicted comes back, of any length", () => {
    fc.assert(
      fc.property(somewhere, (bytes) => {
        expect([...reconstruct(predict(bytes))]).toEqual([...bytes]);
      }),
    );
  });
  test("runs come back, in no more bytes than one in 64 above what they were", () => {
    const runs = fc.array(fc.tuple(fc.nat({ max: 255 }), fc.integer({ min: 1, max: 300 })), { maxLength: 20 });
    fc.assert(
      fc.property(runs, (all) => {
        const bytes = Buffer.from(all.flatMap(([value, count]) => Array.from({ length: count }, () => value)));
        const packed = packRuns(bytes);
        expect(expandRuns(packed, bytes.length).equals(bytes)).toBe(true);
        expect(packed.length).toBeLessThanOrEqual(bytes.length * (1 + 1 / 64) + 2);
      }),
    );
  });
  test("runs that lead past the end, or end before it, are refused", () => {
    expect(() => expandRuns(Buffer.from([9, 1]), 4)).toThrow("its runs are damaged");
    expect(() => expandRuns(Buffer.from([1, 7]), 4)).toThrow("its runs are cut off");
    expect(() => expandRuns(Buffer.from([-4 & 255, 1, 2]), 4)).toThrow("its runs are damaged");
  });
});
