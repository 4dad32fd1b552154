import type { Channel } from "../header";
import { decodeHuffman, encodeHuffman } from "./huffman";

/**
 * PIZ, as OpenEXR defines it (ImfPizCompressor, ImfWav): a table of used values, a two-dimensional Haar-like wavelet on
 * 16-bit words, and Huffman codes.
 */
const BITMAP_BYTES = 8192;

export function decodePiz(source: Buffer, channels: Channel[], width: number, lines: number): Buffer {
  const total = channels.reduce((sum, { bytes }) => sum + (width * lines * bytes) / 2, 0);
  if (source.length < 4) throw new Error("it is cut off");
  const first = source.readUInt16LE(0);
  const last = source.readUInt16LE(2);
  let at = 4;
  const bitmap = new Uint8Array(BITMAP_BYTES);
  if (last >= BITMAP_BYTES) throw new Error("its table is damaged");
  if (first <= last) {
    bitmap.set(source.subarray(at, at + last - first + 1), first);
    at += last - first + 1;
  }
  const table = new Uint16Array(65536);
  let used = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3]! & (1 << (i & 7))) table[used++] = i;
  const largest = used - 1;
  if (at + 4 > source.length) throw new Error("it is cut off");
  const length = source.readInt32LE(at);
  at += 4;
  if (length < 0 || at + length > source.length) throw new Error("it is cut off");
  const out = length ? decodeHuffman(source.subarray(at, at + length), total) : new Uint16Array(total);
  overPlanes(channels, width, lines, (start, words) =>
    wavelet(out, start, width, words, lines, width * words, largest),
  );
  for (let i = 0; i < total; i++) out[i] = table[out[i]!]!;
  return Buffer.from(reorder(out, channels, width, lines, false).buffer);
}

/** Each 16-bit part of each channel: where it starts, and how far apart its words are. */
function overPlanes(
  channels: Channel[],
  width: number,
  lines: number,
  work: (start: number, words: number) => void,
): void {
  let start = 0;
  for (const { bytes } of channels) {
    const words = bytes / 2;
    for (let word = 0; word < words; word++) work(start + word, words);
    start += width * lines * words;
  }
}

/** Lines of channels one after another to whole planes, or back. */
function reorder(
  words: Uint16Array,
  channels: Channel[],
  width: number,
  lines: number,
  toPlanes: boolean,
): Uint16Array {
  const out = new Uint16Array(words.length);
  let at = 0;
  for (let line = 0; line < lines; line++) {
    let plane = 0;
    for (const { bytes } of channels) {
      const count = (width * bytes) / 2;
      const row = plane + line * count;
      if (toPlanes) out.set(words.subarray(at, at + count), row);
      else out.set(words.subarray(row, row + count), at);
      at += count;
      plane += count * lines;
    }
  }
  return out;
}

/** Packs lines of channels one after another. */
export function encodePiz(raw: Buffer, channels: Channel[], width: number, lines: number): Buffer {
  const words = reorder(
    new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length)),
    channels,
    width,
    lines,
    true,
  );
  const bitmap = Buffer.alloc(BITMAP_BYTES);
  for (const word of words) bitmap[word >> 3]! |= 1 << (word & 7);
  bitmap[0]! &= ~1;
  const table = new Uint16Array(65536);
  let used = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3]! & (1 << (i & 7))) table[i] = used++;
  for (let i = 0; i < words.length; i++) words[i] = table[words[i]!]!;
  const first = Math.max(
    0,
    bitmap.findIndex((byte) => byte > 0),
  );
  const last = bitmap.findLastIndex((byte) => byte > 0);
  const range = last < 0 ? [BITMAP_BYTES - 1, 0] : [first, last];
  overPlanes(channels, width, lines, (start, step) =>
    waveletForward(words, start, width, step, lines, width * step, used - 1),
  );
  const coded = encodeHuffman(words);
  const head = Buffer.alloc(4);
  head.writeUInt16LE(range[0]!, 0);
  head.writeUInt16LE(range[1]!, 2);
  const length = Buffer.alloc(4);
  length.writeInt32LE(coded.length);
  return Buffer.concat([head, last < 0 ? Buffer.alloc(0) : bitmap.subarray(first, last + 1), length, coded]);
}

function wavelet(
  data: Uint16Array,
  start: number,
  nx: number,
  ox: number,
  ny: number,
  oy: number,
  largest: number,
): void {
  const short = largest < 1 << 14;
  const undo = short ? undo14 : undo16;
  const n = Math.min(nx, ny);
  let p = 1;
  while (p <= n) p <<= 1;
  p >>= 1;
  let p2 = p;
  p >>= 1;
  while (p >= 1) {
    const oy1 = oy * p;
    const oy2 = oy * p2;
    const ox1 = ox * p;
    const ox2 = ox * p2;
    let py = start;
    const ey = start + oy * (ny - p2);
    for (; py <= ey; py += oy2) {
      let px = py;
      const ex = py + ox * (nx - p2);
      for (; px <= ex; px += ox2) {
        const p01 = px + ox1;
        const p10 = px + oy1;
        const p11 = p10 + ox1;
        undo(data, px, p10);
        undo(data, p01, p11);
        undo(data, px, p01);
        undo(data, p10, p11);
      }
      if (nx & p) undo(data, px, px + oy1);
    }
    if (ny & p) {
      let px = py;
      const ex = py + ox * (nx - p2);
      for (; px <= ex; px += ox2) undo(data, px, px + ox1);
    }
    p2 = p;
    p >>= 1;
  }
}

/** Signed arithmetic on values under 2^14. */
function undo14(data: Uint16Array, a: number, b: number): void {
  const low = (data[a]! << 16) >> 16;
  const high = (data[b]! << 16) >> 16;
  const sum = low + (high & 1) + (high >> 1);
  data[a] = sum;
  data[b] = sum - high;
}

/** Modulo 2^16. */
function undo16(data: Uint16Array, a: number, b: number): void {
  const middle = data[a]!;
  const difference = data[b]!;
  const second = (middle - (difference >> 1)) & 0xffff;
  data[b] = second;
  data[a] = (difference + second - 0x8000) & 0xffff;
}

function waveletForward(
  data: Uint16Array,
  start: number,
  nx: number,
  ox: number,
  ny: number,
  oy: number,
  largest: number,
): void {
  const step = largest < 1 << 14 ? do14 : do16;
  const n = Math.min(nx, ny);
  for (let p = 1, p2 = 2; p2 <= n; p = p2, p2 <<= 1) {
    const [oy1, oy2, ox1, ox2] = [oy * p, oy * p2, ox * p, ox * p2];
    let py = start;
    const ey = start + oy * (ny - p2);
    for (; py <= ey; py += oy2) {
      let px = py;
      const ex = py + ox * (nx - p2);
      for (; px <= ex; px += ox2) {
        step(data, px, px + ox1);
        step(data, px + oy1, px + oy1 + ox1);
        step(data, px, px + oy1);
        step(data, px + ox1, px + oy1 + ox1);
      }
      if (nx & p) step(data, px, px + oy1);
    }
    if (ny & p) {
      const ex = py + ox * (nx - p2);
      for (let px = py; px <= ex; px += ox2) step(data, px, px + ox1);
    }
  }
}

function do14(data: Uint16Array, a: number, b: number): void {
  const first = (data[a]! << 16) >> 16;
  const second = (data[b]! << 16) >> 16;
  data[a] = (first + second) >> 1;
  data[b] = first - second;
}

function do16(data: Uint16Array, a: number, b: number): void {
  const first = (data[a]! + 0x8000) & 0xffff;
  const difference = first - data[b]!;
  const middle = (first + data[b]!) >> 1;
  data[a] = difference < 0 ? (middle + 0x8000) & 0xffff : middle;
  data[b] = difference & 0xffff;
}
