import { deflateSync } from "node:zlib";
import { floatsToHalves, floatToHalf, HALVES } from "../../../../core/maths/half";
import type { Channel } from "../../header";
import { packRuns, predict } from "../bytes";
import { HEAD, type Head, RUN } from "./decode";
import { groupChannels, ruleFor, RULES, writeRules } from "./schemes";
import { BLOCK, forward, perceptual, toLuma, ZIGZAG } from "./transform";

/** The error a coefficient may have, before it is weighted by place: the format's usual level 45 in 100 000. */
const BASE_ERROR = 45 / 100_000;
/** ITU-T T.81, tables K.1 and K.2. */
const LUMA = [
  16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51,
  87, 80, 62, 18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92, 49, 64, 78, 87, 103, 121, 120, 101,
  72, 92, 95, 98, 112, 100, 103, 99,
];
const CHROMA = [17, 18, 24, 47, 18, 21, 26, 66, 24, 26, 56, 99, 47, 66, 99, 99];
const lumaError = LUMA.map((weight) => (BASE_ERROR * weight) / 10);
const chromaError = LUMA.map(
  (_, i) => (BASE_ERROR * ((i & 7) < 4 && i >> 3 < 4 ? CHROMA[(i >> 3) * 4 + (i & 7)]! : 99)) / 17,
);

let toPerceptual: Float32Array | null = null;
/** Halves of light, by their bits, as they are kept: rounded to halves again. */
const perceptualTable = () =>
  (toPerceptual ??= Float32Array.from(floatsToHalves(HALVES.map(perceptual)), (bits) => HALVES[bits]!));

/** The half within `error` of a value that has the fewest bits of mantissa. */
function coarse(value: number, error: number): number {
  if (Math.abs(value) < error) return 0;
  const bits = floatToHalf(value);
  for (let drop = 10; drop > 0; drop--) {
    const candidate = (bits + (1 << (drop - 1))) & ~((1 << drop) - 1) & 0xffff;
    if ((candidate & 0x7c00) !== 0x7c00 && (candidate ^ bits) < 0x8000 && Math.abs(HALVES[candidate]! - value) < error)
      return candidate;
  }
  return bits;
}

/** DWAA: packs lines of channels one after another. */
export function encodeDwa(raw: Buffer, channels: Channel[], width: number, lines: number): Buffer {
  const planes = channels.map(({ bytes }) => Buffer.allocUnsafe(width * lines * bytes));
  let from = 0;
  for (let line = 0; line < lines; line++)
    channels.forEach(
      ({ bytes }, i) => (from += raw.copy(planes[i]!, line * width * bytes, from, from + width * bytes)),
    );
  const { transformed, runs, deflated } = groupChannels(channels, RULES);
  const rules = RULES.filter((rule) => channels.some((channel) => ruleFor(RULES, channel) === rule));
  const dc: number[] = [];
  const ac: number[] = [];
  for (const group of transformed)
    encodeGroup(
      group.map((i) => ({ channel: channels[i]!, plane: planes[i]! })),
      width,
      lines,
      ac,
      dc,
    );
  const plain = Buffer.concat(deflated.map((i) => planes[i]!));
  const runBytes = Buffer.concat(runs.map((i) => bytePlanes(planes[i]!, channels[i]!.bytes)));
  const packedRuns = packRuns(runBytes);
  const pack = (bytes: Buffer) => (bytes.length ? deflateSync(bytes, { level: 6 }) : bytes);
  const words = (values: number[]) => Buffer.from(Uint16Array.from(values).buffer);
  const sections = [pack(plain), pack(words(ac)), pack(predict(words(dc))), pack(packedRuns)] as const;
  const head: Head = {
    version: 2,
    deflatedSize: plain.length,
    deflatedPacked: sections[0].length,
    acPacked: sections[1].length,
    dcPacked: sections[2].length,
    runsPacked: sections[3].length,
    runsSize: packedRuns.length,
    runsRaw: runBytes.length,
    acCount: ac.length,
    dcCount: dc.length,
    acCompression: 1,
  };
  const headBytes = Buffer.alloc(HEAD.length * 8);
  HEAD.forEach((name, i) => headBytes.writeBigUInt64LE(BigInt(head[name]), i * 8));
  const ruleBytes = writeRules(rules);
  const ruleSize = Buffer.alloc(2);
  ruleSize.writeUInt16LE(ruleBytes.length + 2);
  return Buffer.concat([headBytes, ruleSize, ruleBytes, ...sections]);
}

function bytePlanes(plane: Buffer, bytes: number): Buffer {
  const out = Buffer.allocUnsafe(plane.length);
  const count = plane.length / bytes;
  for (let b = 0; b < bytes; b++) for (let i = 0; i < count; i++) out[b * count + i] = plane[i * bytes + b]!;
  return out;
}

function encodeGroup(
  members: { channel: Channel; plane: Buffer }[],
  width: number,
  lines: number,
  ac: number[],
  dc: number[],
): void {
  const [columns, rows] = [Math.ceil(width / BLOCK), Math.ceil(lines / BLOCK)];
  const blocks = new Float32Array(64 * members.length);
  const means: number[][] = members.map(() => []);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      members.forEach(({ channel, plane }, m) =>
        loadBlock(blocks.subarray(m * 64, m * 64 + 64), channel, plane, column * BLOCK, row * BLOCK, width, lines),
      );
      if (members.length === 3) toLuma(blocks);
      members.forEach((_, m) => {
        const block = blocks.subarray(m * 64, m * 64 + 64);
        forward(block);
        const errors = m === 0 ? lumaError : chromaError;
        means[m]!.push(coarse(block[0]!, errors[0]!));
        putAc(block, errors, ac);
      });
    }
  }
  // One by one: a spread of half a million arguments overflows the stack.
  for (const all of means) for (const mean of all) dc.push(mean);
}

/** Beyond the edge the picture is mirrored. */
const mirrored = (i: number, size: number) => (i < size ? i : Math.max(0, 2 * size - 1 - i));

function loadBlock(
  block: Float32Array,
  { type, bytes, linear }: Channel,
  plane: Buffer,
  left: number,
  top: number,
  width: number,
  lines: number,
): void {
  const table = linear ? HALVES : perceptualTable();
  for (let y = 0; y < BLOCK; y++)
    for (let x = 0; x < BLOCK; x++) {
      const at = (mirrored(top + y, lines) * width + mirrored(left + x, width)) * bytes;
      const bits = type === "half" ? plane.readUInt16LE(at) : floatToHalf(plane.readFloatLE(at));
      const value = table[bits]!;
      block[y * BLOCK + x] = Number.isFinite(value) ? value : 0;
    }
}

function putAc(block: Float32Array, errors: number[], ac: number[]): void {
  let zeros = 0;
  for (let n = 1; n < 64; n++) {
    const index = ZIGZAG[n]!;
    const word = coarse(block[index]!, errors[index]!);
    if ((word & 0x7fff) === 0) {
      zeros++;
      continue;
    }
    if (zeros) ac.push(zeros === 1 ? 0 : RUN | zeros);
    zeros = 0;
    ac.push(word);
  }
  if (zeros === 1) ac.push(0);
  else if (zeros) ac.push(RUN);
}
