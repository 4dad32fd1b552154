import type { Packing } from "./layout";

/**
 * How samples of so many bits lie in a line. 10 and 12 bits are in words of 32 or 16 bits, filled or tightly packed.
 */
export interface SampleLayout {
  bits: 8 | 10 | 12 | 16;
  packing: Packing;
  bigEndian: boolean;
}

/** Bytes of a line of `count` samples; lines end on 32-bit words. */
export function lineBytes(count: number, { bits, packing }: SampleLayout): number {
  const exact =
    packing !== "packed" && bits === 10
      ? Math.ceil(count / 3) * 4
      : packing !== "packed" && bits === 12
        ? count * 2
        : Math.ceil((count * bits) / 8);
  return Math.ceil(exact / 4) * 4;
}

const word32 = (bytes: Buffer, at: number, big: boolean) => (big ? bytes.readUInt32BE(at) : bytes.readUInt32LE(at));
const word16 = (bytes: Buffer, at: number, big: boolean) => (big ? bytes.readUInt16BE(at) : bytes.readUInt16LE(at));

/** Shift of the n-th of three 10-bit samples in a filled word: method A leaves the lowest two bits, B the highest. */
const shiftOf = (n: number, packing: Packing) => 20 - 10 * n + (packing === "filled A" ? 2 : 0);

/** Reads `count` samples of a line that starts at `at` into `out`. */
export function readLine(
  bytes: Buffer,
  at: number,
  count: number,
  { bits, packing, bigEndian }: SampleLayout,
  out: Uint16Array,
): void {
  if (bits === 8) for (let i = 0; i < count; i++) out[i] = bytes[at + i]!;
  else if (bits === 16) for (let i = 0; i < count; i++) out[i] = word16(bytes, at + i * 2, bigEndian);
  else if (packing === "packed") {
    // Samples run on through 32-bit words from the lowest bit up.
    for (let i = 0; i < count; i++) {
      const bit = i * bits;
      const word = at + (bit >> 5) * 4;
      const shift = bit & 31;
      const low = word32(bytes, word, bigEndian) >>> shift;
      const high = shift + bits > 32 ? word32(bytes, word + 4, bigEndian) << (32 - shift) : 0;
      out[i] = (low | high) & ((1 << bits) - 1);
    }
  } else if (bits === 12) {
    const shift = packing === "filled A" ? 4 : 0;
    for (let i = 0; i < count; i++) out[i] = (word16(bytes, at + i * 2, bigEndian) >> shift) & 4095;
  } else {
    const [s0, s1, s2] = [0, 1, 2].map((n) => shiftOf(n, packing)) as [number, number, number];
    for (let i = 0, from = at; i < count; i += 3, from += 4) {
      const word = word32(bytes, from, bigEndian);
      out[i] = (word >>> s0) & 1023;
      if (i + 1 < count) out[i + 1] = (word >>> s1) & 1023;
      if (i + 2 < count) out[i + 2] = (word >>> s2) & 1023;
    }
  }
}

/** Writes `count` samples as a line at `at`; what fills up the line stays as it is (zero). */
export function writeLine(
  bytes: Buffer,
  at: number,
  count: number,
  { bits, packing, bigEndian }: SampleLayout,
  samples: Uint16Array,
): void {
  const put32 = (value: number, to: number) =>
    bigEndian ? bytes.writeUInt32BE(value >>> 0, to) : bytes.writeUInt32LE(value >>> 0, to);
  const put16 = (value: number, to: number) =>
    bigEndian ? bytes.writeUInt16BE(value, to) : bytes.writeUInt16LE(value, to);
  if (bits === 8) for (let i = 0; i < count; i++) bytes[at + i] = samples[i]!;
  else if (bits === 16) for (let i = 0; i < count; i++) put16(samples[i]!, at + i * 2);
  else if (packing === "packed") {
    for (let i = 0; i < count; i++) {
      const bit = i * bits;
      const word = at + (bit >> 5) * 4;
      const shift = bit & 31;
      put32(word32(bytes, word, bigEndian) | (samples[i]! << shift), word);
      if (shift + bits > 32) put32(samples[i]! >>> (32 - shift), word + 4);
    }
  } else if (bits === 12)
    for (let i = 0; i < count; i++) put16(packing === "filled A" ? samples[i]! << 4 : samples[i]!, at + i * 2);
  else {
    const [s0, s1, s2] = [0, 1, 2].map((n) => shiftOf(n, packing)) as [number, number, number];
    for (let i = 0, to = at; i < count; i += 3, to += 4)
      put32((samples[i]! << s0) | ((samples[i + 1] ?? 0) << s1) | ((samples[i + 2] ?? 0) << s2), to);
  }
}
