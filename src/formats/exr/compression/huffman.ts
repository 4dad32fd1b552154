/**
 * Huffman codes of 16-bit words, as OpenEXR's PIZ and DWA store them (ImfHuf): the codes' lengths from the lowest
 * symbol to the highest, then the data. The highest symbol stands for "the last word again", so many times. Errors are
 * plain messages; the reader names the file.
 */
const ENCODED_SIZE = 65537;
const HEAD_BYTES = 20;
const MAX_CODE_LENGTH = 58;
const LONG_RUN_SHORTEST = 59;
const LONG_RUN = 63;
const RUN_BIAS = 6;

export function decodeHuffman(bytes: Buffer, total: number): Uint16Array {
  if (bytes.length < HEAD_BYTES) throw new Error("it is cut off");
  const low = bytes.readUInt32LE(0);
  const high = bytes.readUInt32LE(4);
  const bits = bytes.readUInt32LE(12);
  if (low >= ENCODED_SIZE || high >= ENCODED_SIZE) throw new Error("its codes are damaged");
  const lengths = new Uint8Array(ENCODED_SIZE);
  let at = HEAD_BYTES;
  let buffer = 0;
  let held = 0;
  const take = (count: number): number => {
    while (held < count) {
      if (at >= bytes.length) throw new Error("its codes are cut off");
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
    if (symbol > high) throw new Error("its codes are damaged");
  }
  return decodeCanonical(bytes, at, bits, lengths, high, total);
}

/** Canonical codes, longest first, as ImfHuf numbers them; decoded a bit at a time beyond a table of short ones. */
function decodeCanonical(
  bytes: Buffer,
  start: number,
  bits: number,
  lengths: Uint8Array,
  runSymbol: number,
  total: number,
): Uint16Array {
  const firstCode = firstCodes(lengths);
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
    if (position >= end) throw new Error("its data is cut off");
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
        if (++length > MAX_CODE_LENGTH || position >= end) throw new Error("its data is damaged");
        value = value * 2 + peek(position++, 1);
        const index = value - firstCode[length]!;
        if (index >= 0 && index < symbols[length]!.length) symbol = symbols[length]![index]!;
      }
    }
    if (symbol !== runSymbol) out[filled++] = symbol;
    else {
      const count = peek(position, 8);
      position += 8;
      if (!filled || filled + count > total) throw new Error("its runs are damaged");
      out.fill(out[filled - 1]!, filled, filled + count);
      filled += count;
    }
  }
  return out;
}

/** Lengths of Huffman codes for symbols that occur so often; 0 where one does not. */
function codeLengths(counts: Uint32Array): Uint8Array {
  const used = Array.from(counts.keys()).filter((symbol) => counts[symbol]);
  used.sort((a, b) => counts[a]! - counts[b]! || a - b);
  const lengths = new Uint8Array(counts.length);
  if (used.length === 1) lengths[used[0]!] = 1;
  // Two queues in ascending order: leaves as sorted, and the nodes made from them.
  const weight = used.map((symbol) => counts[symbol]!);
  const parent = new Int32Array(used.length * 2);
  let leaf = 0;
  let node = used.length;
  const lightest = () =>
    leaf < used.length && (node >= weight.length || weight[leaf]! <= weight[node]!) ? leaf++ : node++;
  while (weight.length < used.length * 2 - 1) {
    const [a, b] = [lightest(), lightest()];
    parent[a] = parent[b] = weight.length;
    weight.push(weight[a]! + weight[b]!);
  }
  const depth = new Uint8Array(weight.length);
  for (let i = weight.length - 2; i >= 0; i--) {
    depth[i] = depth[parent[i]!]! + 1;
    if (i < used.length) lengths[used[i]!] = depth[i]!;
  }
  return lengths;
}

/** First code of each length, longest first: the format's canonical numbering. */
function firstCodes(lengths: Uint8Array): Float64Array {
  const counts = new Float64Array(MAX_CODE_LENGTH + 2);
  for (const length of lengths) counts[length]!++;
  const first = new Float64Array(MAX_CODE_LENGTH + 2);
  let code = 0;
  for (let length = MAX_CODE_LENGTH; length > 0; length--) {
    first[length] = code;
    code = Math.floor((code + counts[length]!) / 2);
  }
  return first;
}

class Bits {
  bytes: Buffer;
  count = 0;
  private byte = 0;
  constructor(room: number) {
    this.bytes = Buffer.alloc(room);
  }
  put(value: number, length: number): void {
    for (let left = length; left > 0;) {
      const take = Math.min(left, 8 - (this.count & 7));
      const part = Math.floor(value / 2 ** (left - take)) & ((1 << take) - 1);
      this.byte = (this.byte << take) | part;
      this.count += take;
      left -= take;
      if ((this.count & 7) === 0) this.store();
    }
  }
  private store(): void {
    const at = (this.count >> 3) - 1;
    if (at >= this.bytes.length) this.bytes = Buffer.concat([this.bytes, Buffer.alloc(this.bytes.length + 64)]);
    this.bytes[at] = this.byte;
    this.byte = 0;
  }
  /** What was put, padded to whole bytes. */
  end(): Buffer {
    const bits = this.count;
    if (bits & 7) this.put(0, 8 - (bits & 7));
    this.count = bits;
    return this.bytes.subarray(0, (bits + 7) >> 3);
  }
}

/** Words to what `decodeHuffman` reads. */
export function encodeHuffman(words: Uint16Array): Buffer {
  const counts = new Uint32Array(ENCODED_SIZE);
  for (const word of words) counts[word]!++;
  const low = counts.findIndex((count) => count > 0);
  const runSymbol = counts.findLastIndex((count) => count > 0) + 1;
  counts[runSymbol] = 1;
  const lengths = codeLengths(counts);
  const next = firstCodes(lengths);
  const codes = Float64Array.from(lengths, (length) => (length ? next[length]!++ : 0));
  const table = new Bits(4096);
  for (let symbol = low; symbol <= runSymbol; symbol++) {
    if (lengths[symbol]) {
      table.put(lengths[symbol]!, 6);
      continue;
    }
    let run = 1;
    while (symbol + 1 <= runSymbol && !lengths[symbol + 1] && run < 255 + RUN_BIAS) {
      symbol++;
      run++;
    }
    if (run >= RUN_BIAS) {
      table.put(LONG_RUN, 6);
      table.put(run - RUN_BIAS, 8);
    } else table.put(run === 1 ? 0 : LONG_RUN_SHORTEST + run - 2, 6);
  }
  const data = new Bits(words.length + 64);
  const put = (symbol: number) => data.put(codes[symbol]!, lengths[symbol]!);
  for (let i = 0; i < words.length;) {
    const word = words[i]!;
    let again = 0;
    while (i + again + 1 < words.length && words[i + again + 1] === word && again < 255) again++;
    put(word);
    if (lengths[runSymbol]! + 8 < lengths[word]! * again) {
      put(runSymbol);
      data.put(again, 8);
    } else for (let k = 0; k < again; k++) put(word);
    i += again + 1;
  }
  const [tableBytes, dataBytes] = [table.end(), data.end()];
  const head = Buffer.alloc(HEAD_BYTES);
  [low, runSymbol, tableBytes.length, data.count, 0].forEach((value, i) => head.writeUInt32LE(value, i * 4));
  return Buffer.concat([head, tableBytes, dataBytes]);
}
