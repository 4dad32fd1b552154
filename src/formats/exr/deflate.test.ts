import { inflateSync } from "node:zlib";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { reconstruct } from "./compression/bytes";
import { deflatedLines } from "./lines";

/** A stream of exactly these bytes, a multiple of four: as a row of whole numbers whose differences they are. */
function streamOf(bytes: Buffer): Buffer | null {
  const plain = reconstruct(Buffer.from(bytes));
  const bits = new Uint32Array(Uint8Array.from(plain).buffer);
  return deflatedLines({
    channels: [{ bits, stride: 1, first: 0, isHalf: false }],
    ...{ width: bits.length, top: 0, end: 1 },
  });
}

/** Numbers that look like chance and are always the same. */
function chance(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

const filled = (length: number, at: (i: number) => number) => Buffer.from(Uint8Array.from({ length }, (_, i) => at(i)));

/** Counts that grow as Fibonacci's numbers do have the longest codes there are. */
function fibonacci(length: number): Buffer {
  const values: number[] = [];
  for (let [a, b, value] = [1, 1, 0]; values.length < length; [a, b, value] = [b, a + b, value + 1])
    for (let i = 0; i < a && values.length < length; i++) values.push(value);
  const next = chance(3);
  // Shuffled, so that no strings are found instead.
  for (let i = values.length - 1; i > 0; i--) {
    const j = Math.floor(next() * (i + 1));
    [values[i], values[j]] = [values[j]!, values[i]!];
  }
  return Buffer.from(values);
}

const noise = chance(1);
const KINDS: [string, Buffer][] = [
  ["nothing but one byte", filled(300_000, () => 128)],
  ["four bytes", filled(4, (i) => i)],
  ["a few bytes", filled(24, (i) => i % 3)],
  ["steps that come again after 32768 bytes, and after one more", filled(200_000, (i) => (i % 32768 < 9 ? i % 9 : 0))],
  ["noise of few values", filled(150_000, () => 126 + noise() * 4)],
  ["what is mostly alike, with noise between", filled(260_000, (i) => (i % 700 < 40 ? noise() * 256 : 128))],
  ["noise, then steps", filled(120_000, (i) => (i < 60_000 ? noise() * 256 : (i >> 4) & 255))],
  ["counts like Fibonacci's numbers", fibonacci(120_000)],
  ["a short part that returns all the time", filled(90_000, (i) => ((i * i) % 251) & (i % 7))],
];

describe("zlib streams of lines", () => {
  test.each(KINDS)("%s: come back as they were, by an independent reader", (_, bytes) => {
    const stream = streamOf(bytes);
    // Only a few bytes come out no shorter.
    expect(stream === null).toBe(bytes.length < 64);
    if (stream) expect(inflateSync(stream).equals(bytes)).toBe(true);
  });
  test("noise three times, as far apart as a string may lie", () => {
    const some = filled(32768, () => noise() * 256);
    const twice = Buffer.concat([some, some, some]);
    const stream = streamOf(twice)!;
    expect(inflateSync(stream).equals(twice)).toBe(true);
    expect(stream.length).toBeLessThan(twice.length / 2);
  });
  test("noise that no code makes shorter has no stream: it is stored as it is", () => {
    expect(streamOf(filled(40_000, () => noise() * 256))).toBeNull();
  });
  test("anything comes back, however long, however much of it was there before", () => {
    const piece = fc.oneof(
      fc.uint8Array({ maxLength: 60 }).map((bytes) => Buffer.from(bytes)),
      fc.tuple(fc.nat({ max: 255 }), fc.nat({ max: 2000 })).map(([value, count]) => Buffer.alloc(count, value)),
      fc.tuple(fc.nat(), fc.nat({ max: 3000 }), fc.integer({ min: 1, max: 256 })).map(([seed, count, values]) => {
        const next = chance(seed);
        return filled(count, () => next() * values);
      }),
    );
    const pieces = fc.tuple(fc.array(piece, { maxLength: 12 }), fc.array(fc.nat({ max: 40 }), { maxLength: 30 }));
    fc.assert(
      fc.property(pieces, ([own, order]) => {
        const all = Buffer.concat(own.length ? [...own, ...order.map((i) => own[i % own.length]!)] : []);
        const bytes = all.subarray(0, all.length - (all.length % 4));
        const stream = streamOf(bytes);
        expect(stream === null || inflateSync(stream).equals(bytes)).toBe(true);
        expect(stream === null || stream.length < bytes.length).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});
