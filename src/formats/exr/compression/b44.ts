import { floatToHalf, halfToFloat } from "../../../core/maths/half";
import type { Channel } from "../header";

const BLOCK = 4;
/** A block whose shift is at least this holds one value. */
const FLAT = 13 << 2;

/** Channels marked linear are kept as their logarithm: 8 ln x. */
let exponentials: Uint16Array | null = null;
const exponentialTable = () =>
  (exponentials ??= Uint16Array.from({ length: 65536 }, (_, bits) => {
    const value = halfToFloat(bits);
    return Number.isFinite(value) ? floatToHalf(Math.min(Math.exp(value / 8), 65504)) : 0;
  }));

/**
 * B44 and B44A: blocks of 4 by 4 halves in 14 bytes, or 3 where they are all alike; other types are kept as they are.
 */
export function decodeB44(source: Buffer, channels: Channel[], width: number, lines: number, size: number): Buffer {
  const planes: { at: number; bytes: number }[] = [];
  const flat = Buffer.alloc(size);
  const words = new Uint16Array(16);
  let at = 0;
  let from = 0;
  for (const { type, bytes, linear } of channels) {
    planes.push({ at, bytes });
    if (type !== "half") {
      const length = width * lines * bytes;
      if (from + length > source.length) throw new Error("it is cut off");
      source.copy(flat, at, from, from + length);
      from += length;
    } else {
      for (let y = 0; y < lines; y += BLOCK) {
        for (let x = 0; x < width; x += BLOCK) {
          if (from + 3 > source.length) throw new Error("it is cut off");
          const one = source[from + 2]! >= FLAT;
          if (from + (one ? 3 : 14) > source.length) throw new Error("it is cut off");
          if (one) words.fill(signed((source[from]! << 8) | source[from + 1]!));
          else unpack(source, from, words);
          from += one ? 3 : 14;
          for (let j = 0; j < Math.min(BLOCK, lines - y); j++)
            for (let i = 0; i < Math.min(BLOCK, width - x); i++) {
              const word = words[j * BLOCK + i]!;
              flat.writeUInt16LE(linear ? exponentialTable()[word]! : word, at + ((y + j) * width + x + i) * 2);
            }
        }
      }
    }
    at += width * lines * bytes;
  }
  const out = Buffer.allocUnsafe(size);
  let to = 0;
  for (let line = 0; line < lines; line++)
    for (const plane of planes)
      to += flat.copy(out, to, plane.at + line * width * plane.bytes, plane.at + (line + 1) * width * plane.bytes);
  return out;
}

/** The ordered form of a half's bits, undone. */
const signed = (word: number) => (word & 0x8000 ? word & 0x7fff : ~word & 0xffff);

/** Fifteen running differences of six bits, down the columns, then along the first row. */
function unpack(b: Buffer, at: number, out: Uint16Array): void {
  const shift = b[at + 2]! >> 2;
  const bias = 0x20 << shift;
  const bits = (index: number) => {
    const bit = 22 + index * 6;
    const byte = at + (bit >> 3);
    return (((b[byte]! << 8) | (b[byte + 1] ?? 0)) >> (10 - (bit & 7))) & 0x3f;
  };
  out[0] = (b[at]! << 8) | b[at + 1]!;
  let index = 0;
  const next = (before: number, to: number) => {
    out[to] = out[before]! + (bits(index++) << shift) - bias;
  };
  for (let row = 1; row < 4; row++) next((row - 1) * 4, row * 4);
  for (let column = 1; column < 4; column++)
    for (let row = 0; row < 4; row++) next(row * 4 + column - 1, row * 4 + column);
  for (let i = 0; i < 16; i++) out[i] = signed(out[i]!);
}
