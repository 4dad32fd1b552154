import { inflateSync } from "node:zlib";
import { floatsToHalves, HALVES } from "../../../../core/maths/half";
import type { Channel } from "../../header";
import { expandRuns, reconstruct } from "../bytes";
import { decodeHuffman } from "../huffman";
import { FIRST_RULES, groupChannels, readRules } from "./schemes";
import { BLOCK, fromLuma, inverse, linear, ZIGZAG } from "./transform";

/** The words of a chunk's head, each of 64 bits. */
export const HEAD = [
  "version",
  "deflatedSize",
  "deflatedPacked",
  "acPacked",
  "dcPacked",
  "runsPacked",
  "runsSize",
  "runsRaw",
  "acCount",
  "dcCount",
  "acCompression",
] as const;
export type Head = Record<(typeof HEAD)[number], number>;
/** A run of zeros, its length in the low byte; a length of 0 ends the block. */
export const RUN = 0xff00;

let toLinear: Float32Array | null = null;
/** Halves as kept, by their bits, to light. */
const linearTable = () => (toLinear ??= HALVES.map(linear));

/** DWAA and DWAB: a chunk back to lines of channels one after another. */
export function decodeDwa(source: Buffer, channels: Channel[], width: number, lines: number, size: number): Buffer {
  const head = readHead(source, size);
  let at = HEAD.length * 8;
  let rules = FIRST_RULES;
  if (head.version >= 2) {
    const length = at + 2 <= source.length ? source.readUInt16LE(at) : 0;
    if (length < 2 || at + length > source.length) throw new Error("its channel rules are damaged");
    rules = readRules(source.subarray(at + 2, at + length));
    at += length;
  }
  const section = (length: number) => {
    if (at + length > source.length) throw new Error("it is cut off");
    at += length;
    return source.subarray(at - length, at);
  };
  const inflate = (bytes: Buffer, length: number) => {
    if (!bytes.length) return Buffer.alloc(0);
    const out = inflateSync(bytes, { maxOutputLength: Math.max(1, length) });
    if (out.length !== length) throw new Error("a section of it is cut off");
    return out;
  };
  const deflated = inflate(section(head.deflatedPacked), head.deflatedSize);
  const acBytes = section(head.acPacked);
  const ac = !head.acCount
    ? new Uint16Array(0)
    : head.acCompression === 0
      ? decodeHuffman(acBytes, head.acCount)
      : wordsOf(inflate(acBytes, head.acCount * 2));
  const dc = wordsOf(reconstruct(inflate(section(head.dcPacked), head.dcCount * 2)));
  const runsPacked = inflate(section(head.runsPacked), head.runsSize);
  const runs = head.runsRaw ? expandRuns(runsPacked, head.runsRaw) : Buffer.alloc(0);
  const { transformed, runs: runChannels, deflated: plain } = groupChannels(channels, rules);
  const planes: Buffer[] = channels.map(({ bytes }) => Buffer.alloc(width * lines * bytes));
  let plainAt = 0;
  for (const i of plain) plainAt += take(deflated, plainAt, planes[i]!);
  let runsAt = 0;
  for (const i of runChannels) runsAt += takePlanes(runs, runsAt, planes[i]!, channels[i]!.bytes);
  const coefficients = { ac, acAt: 0, dc, dcAt: 0 };
  for (const group of transformed)
    decodeGroup(
      coefficients,
      group.map((i) => ({ channel: channels[i]!, plane: planes[i]! })),
      width,
      lines,
    );
  const out = Buffer.allocUnsafe(size);
  let to = 0;
  for (let line = 0; line < lines; line++)
    channels.forEach(
      ({ bytes }, i) => (to += planes[i]!.copy(out, to, line * width * bytes, (line + 1) * width * bytes)),
    );
  return out;
}

function readHead(source: Buffer, size: number): Head {
  if (source.length < HEAD.length * 8) throw new Error("it is cut off");
  const head = Object.fromEntries(HEAD.map((name, i) => [name, Number(source.readBigUInt64LE(i * 8))])) as Head;
  // No section holds more than the lines do, give or take what packing adds to noise.
  const most = 2 * size + 65536;
  if (head.version > 2 || HEAD.some((name) => head[name] > most) || head.acCompression > 1)
    throw new Error("its head is damaged");
  return head;
}

const wordsOf = (bytes: Buffer) => Uint16Array.from({ length: bytes.length >> 1 }, (_, i) => bytes.readUInt16LE(i * 2));

function take(from: Buffer, at: number, plane: Buffer): number {
  if (at + plane.length > from.length) throw new Error("a channel of it is cut off");
  return from.copy(plane, 0, at, at + plane.length);
}

/** Samples as planes of bytes, lowest first. */
function takePlanes(from: Buffer, at: number, plane: Buffer, bytes: number): number {
  if (at + plane.length > from.length) throw new Error("a channel of it is cut off");
  const count = plane.length / bytes;
  for (let b = 0; b < bytes; b++) for (let i = 0; i < count; i++) plane[i * bytes + b] = from[at + b * count + i]!;
  return plane.length;
}

interface Coefficients {
  ac: Uint16Array;
  acAt: number;
  dc: Uint16Array;
  dcAt: number;
}

function decodeGroup(
  coefficients: Coefficients,
  members: { channel: Channel; plane: Buffer }[],
  width: number,
  lines: number,
): void {
  const [columns, rows] = [Math.ceil(width / BLOCK), Math.ceil(lines / BLOCK)];
  const blocks = new Float32Array(64 * members.length);
  const { dc, dcAt } = coefficients;
  if (dcAt + columns * rows * members.length > dc.length) throw new Error("its blocks are cut off");
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      members.forEach((_, m) => {
        const block = blocks.subarray(m * 64, m * 64 + 64);
        block.fill(0);
        block[0] = HALVES[dc[dcAt + m * columns * rows + row * columns + column]!]!;
        inverse(block, takeAc(coefficients, block));
      });
      if (members.length === 3) fromLuma(blocks);
      members.forEach(({ channel, plane }, m) =>
        storeBlock(blocks.subarray(m * 64, m * 64 + 64), channel, plane, column * BLOCK, row * BLOCK, width, lines),
      );
    }
  }
  coefficients.dcAt += columns * rows * members.length;
}

/** Fills in a block's further coefficients; returns one more than its last row in use. */
function takeAc(coefficients: Coefficients, block: Float32Array): number {
  const { ac } = coefficients;
  let rows = 1;
  for (let n = 1; n < 64;) {
    if (coefficients.acAt >= ac.length) throw new Error("its blocks are cut off");
    const word = ac[coefficients.acAt++]!;
    if (word === RUN) break;
    if ((word & RUN) === RUN) n += word & 255;
    else {
      const index = ZIGZAG[n++]!;
      const value = HALVES[word]!;
      block[index] = value === value ? value : 0;
      rows = Math.max(rows, (index >> 3) + 1);
    }
  }
  return rows;
}

function storeBlock(
  block: Float32Array,
  { type, bytes, linear: isLinear }: Channel,
  plane: Buffer,
  left: number,
  top: number,
  width: number,
  lines: number,
): void {
  const halves = floatsToHalves(block);
  const table = linearTable();
  // The table's light is rounded to a half again; floats are kept no finer.
  const light = isLinear ? halves : floatsToHalves(Float32Array.from(halves, (bits) => table[bits]!));
  for (let y = 0; y < Math.min(BLOCK, lines - top); y++)
    for (let x = 0; x < Math.min(BLOCK, width - left); x++) {
      const at = ((top + y) * width + left + x) * bytes;
      if (type === "half") plane.writeUInt16LE(light[y * BLOCK + x]!, at);
      else plane.writeFloatLE(HALVES[light[y * BLOCK + x]!]!, at);
    }
}
