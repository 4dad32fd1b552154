/**
 * PIZ decompression, as OpenEXR defines it (ImfPizCompressor, ImfHuf, ImfWav): a table of used values, Huffman codes, and a
 * two-dimensional Haar-like wavelet on 16-bit words. Errors are thrown as plain messages; the reader names the file.
 */
const BITMAP_BYTES = 8192;
const ENCODED_SIZE = 65537;
const LONG_RUN_SHORTEST = 59;
const LONG_RUN = 63;
const RUN_BIAS = 6;

/** Planes of 16-bit words to undo: `words` a pixel, `width` by `height`. */
export interface PizPlane {
  width: number;
  height: number;
  words: number;
}

export function decodePiz(source: Buffer, planes: PizPlane[]): Uint16Array {
  const total = planes.reduce((sum, { width, height, words }) => sum + width * height * words, 0);
  if (source.length < 4) throw new Error("a PIZ chunk is cut off");
  const first = source.readUInt16LE(0);
  const last = source.readUInt16LE(2);
  let at = 4;
  const bitmap = new Uint8Array(BITMAP_BYTES);
  if (last >= BITMAP_BYTES) throw new Error("a PIZ chunk's table is damaged");
  if (first <= last) {
    bitmap.set(source.subarray(at, at + last - first + 1), first);
    at += last - first + 1;
  }
  const table = new Uint16Array(65536);
  let used = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3]! & (1 << (i & 7))) table[used++] = i;
  const largest = used - 1;
  if (at + 4 > source.length) throw new Error("a PIZ chunk is cut off");
  const length = source.readInt32LE(at);
  at += 4;
  if (length < 0 || at + length > source.length) throw new Error("a PIZ chunk is cut off");
  const out = length ? huffman(source.subarray(at, at + length), total) : new Uint16Array(total);
  let start = 0;
  for (const { width, height, words } of planes) {
    for (let word = 0; word < words; word++) wavelet(out, start + word, width, words, height, width * words, largest);
    start += width * height * words;
  }
  for (let i = 0; i < total; i++) out[i] = table[out[i]!]!;
  return out;
}

function huffman(bytes: Buffer, total: number): Uint16Array {
  if (bytes.length < 20) throw new Error("a PIZ chunk is cut off");
  const low = bytes.readUInt32LE(0);
  const high = bytes.readUInt32LE(4);
  const bits = bytes.readUInt32LE(12);
  if (low >= ENCODED_SIZE || high >= ENCODED_SIZE) throw new Error("a PIZ chunk's codes are damaged");
  const lengths = new Uint8Array(ENCODED_SIZE);
  let at = 20;
  let buffer = 0;
  let held = 0;
  const take = (count: number): number => {
    while (held < count) {
      if (at >= bytes.length) throw new Error("a PIZ chunk's codes are cut off");
      buffer = ((buffer << 8) | bytes[at++]!) & 0xffffff;
      held += 8;
    }
    held -= count;
    return (buffer >> held) & ((1 << count) - 1);
  };
  for (let symbol = low; symbol <= high; symbol++) {
    const length = take(6);
    if (length === LONG_RUN) symbol += take(8) + RUN_BIAS - 1;
    else if (length >= LONG_RUN_SHORTEST) symbol += length - LONG_RUN_SHORTEST + 2 - 1;
    else lengths[symbol] = length;
    if (symbol > high) throw new Error("a PIZ chunk's codes are damaged");
  }
  return decodeCanonical(bytes, at, bits, lengths, high, total);
}

/** Canonical codes, longest first, as ImfHuf numbers them; decoded a bit at a time beyond a table of short ones. */
function decodeCanonical(bytes: Buffer, start: number, bits: number, lengths: Uint8Array, runSymbol: number, total: number): Uint16Array {
  const counts = new Float64Array(60);
  for (const length of lengths) counts[length]!++;
  const next = new Float64Array(60);
  let code = 0;
  for (let length = 58; length > 0; length--) {
    const following = Math.floor((code + counts[length]!) / 2);
    next[length] = code;
    code = following;
  }
  const firstCode = next.slice();
  const symbols: number[][] = Array.from({ length: 60 }, () => []);
  for (let symbol = 0; symbol < lengths.length; symbol++) if (lengths[symbol]) symbols[lengths[symbol]!]!.push(symbol);
  const SHORT = 14;
  const short = new Int32Array(1 << SHORT).fill(-1);
  for (let length = 1; length <= SHORT; length++) {
    symbols[length]!.forEach((symbol, i) => {
      const from = (firstCode[length]! + i) * 2 ** (SHORT - length);
      short.fill((symbol << 6) | length, from, from + 2 ** (SHORT - length));
    });
  }
  const out = new Uint16Array(total);
  const end = Math.min(start * 8 + bits, bytes.length * 8);
  let position = start * 8;
  let filled = 0;
  const peek = (at: number, count: number): number => {
    let value = 0;
    const byte = at >> 3;
    for (let i = 0; i < 4; i++) value = value * 256 + (bytes[byte + i] ?? 0);
    return Math.floor(value / 2 ** (32 - (at & 7) - count)) & ((1 << count) - 1);
  };
  while (filled < total) {
    if (position >= end) throw new Error("a PIZ chunk's data is cut off");
    const entry = short[peek(position, SHORT)]!;
    let symbol = -1;
    if (entry >= 0) {
      symbol = entry >> 6;
      position += entry & 63;
    } else {
      let value = peek(position, SHORT);
      let length = SHORT;
      position += SHORT;
      while (symbol < 0) {
        if (++length > 58 || position >= end) throw new Error("a PIZ chunk's data is damaged");
        value = value * 2 + peek(position++, 1);
        const index = value - firstCode[length]!;
        if (index >= 0 && index < symbols[length]!.length) symbol = symbols[length]![index]!;
      }
    }
    if (symbol !== runSymbol) out[filled++] = symbol;
    else {
      const count = peek(position, 8);
      position += 8;
      if (!filled || filled + count > total) throw new Error("a PIZ chunk's runs are damaged");
      out.fill(out[filled - 1]!, filled, filled + count);
      filled += count;
    }
  }
  return out;
}

function wavelet(data: Uint16Array, start: number, nx: number, ox: number, ny: number, oy: number, largest: number): void {
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
