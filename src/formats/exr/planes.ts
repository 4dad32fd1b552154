/** Samples of a part, unpacked and laid where they belong. */
import { HALVES } from "../../core/maths/half";
import { FileError } from "../error";
import { type Chunk, chunksOf } from "./chunks";
import { type Lines, unpack } from "./compression";
import type { Channel, ExrFile, PartHeader } from "./header";
import type { ChannelSlot } from "./layers";

/** Where samples are laid: RGBA floats, and depth. */
export interface Planes {
  width: number;
  height: number;
  /** Where their first sample lies, in the windows' coordinates. */
  left: number;
  top: number;
  data: Float32Array;
  z?: Float32Array;
  /** Samples without alpha: each is written opaque. */
  isOpaque: boolean;
  /** Whether all colour was copied as halves, and none of them was infinite or no number. */
  isFinite: boolean;
}

/** Chunks unpacked ahead of the one whose samples are taken. */
const AHEAD = 4;

/** The chunks of a part, unpacked, in turn. Throws where one cannot be. */
async function* unpacked(
  file: string,
  bytes: Buffer,
  exr: ExrFile,
  index: number,
): AsyncGenerator<{ chunk: Chunk; lines: Lines }> {
  const { channels, compression, dataWindow } = exr.parts[index]!;
  const chunks = chunksOf(bytes, exr, index, (reason) => new FileError(file, reason));
  const begin = ({ at, size, width, lines }: Chunk) => {
    const work = unpack(compression, bytes.subarray(at, at + size), channels, width, lines);
    // Said in its turn: until then nobody listens.
    work.catch(() => {});
    return work;
  };
  const begun = chunks.slice(0, AHEAD).map(begin);
  for (const [i, chunk] of chunks.entries()) {
    if (i + AHEAD < chunks.length) begun.push(begin(chunks[i + AHEAD]!));
    try {
      yield { chunk, lines: await begun.shift()! };
    } catch (error) {
      const line = dataWindow.top + chunk.top;
      throw new FileError(file, `chunk ${i + 1} (line ${line}) cannot be read: ${(error as Error).message}`);
    }
  }
}

/** Reads a part's samples into planes, each channel by its slot. */
export async function fill(
  file: string,
  bytes: Buffer,
  exr: ExrFile,
  index: number,
  slots: ChannelSlot[],
  planes: Planes,
): Promise<void> {
  const { channels, dataWindow } = exr.parts[index]!;
  const subsampled = channels.find(({ subsampled: is }) => is);
  if (subsampled) throw new FileError(file, `the channel ${subsampled.name} is subsampled; full channels are read`);
  const { left, top } = planes;
  const halves = colourHalves(channels, slots);
  for await (const { chunk, lines } of unpacked(file, bytes, exr, index)) {
    let at = 0;
    const column = dataWindow.left - left + chunk.left;
    const isPlain = halves !== null && column === 0 && chunk.width === planes.width;
    for (let line = 0; line < chunk.lines; line++) {
      const y = dataWindow.top - top + chunk.top + line;
      if (isPlain && y >= 0 && y < planes.height) copyHalves(halves, lines, at, chunk.width, y, planes);
      for (const [c, channel] of channels.entries()) {
        const slot = slots[c]!;
        const isCopied = isPlain && typeof slot === "number" && slot < COLOURS;
        if (slot !== null && !isCopied && y >= 0 && y < planes.height) {
          if (slot !== "depth" && typeof slot !== "object") planes.isFinite = false;
          copyLine(channel, lines, at, chunk.width, column, y, planes, slot);
        }
        at += chunk.width * channel.bytes;
      }
    }
  }
}

const COLOURS = 3;

/**
 * Where, in samples of two bytes from the line's beginning, red, green and blue stand; null where they are not three
 * halves after halves.
 */
function colourHalves(channels: Channel[], slots: ChannelSlot[]): [number, number, number] | null {
  const found = [0, 1, 2].map((colour) => slots.indexOf(colour as ChannelSlot));
  const last = Math.max(...found);
  const isPlain = !found.includes(-1) && channels.slice(0, last + 1).every(({ type }) => type === "half");
  return isPlain ? (found as [number, number, number]) : null;
}

/** A half's exponent. */
const EXPONENT = 0x7c00;

/** Whether the usual picture's lines cover every pixel, so that all of them are copied whole. */
export const fillsAll = (
  part: PartHeader,
  slots: ChannelSlot[],
  { left, top, width, height }: Omit<Planes, "data" | "isOpaque" | "isFinite">,
): boolean =>
  part.tile === undefined &&
  colourHalves(part.channels, slots) !== null &&
  part.dataWindow.left === left &&
  part.dataWindow.right === left + width - 1 &&
  part.dataWindow.top <= top &&
  part.dataWindow.bottom >= top + height - 1;

/**
 * The usual picture, red, green and blue as halves over the whole width: the three in one going, which is three times
 * as fast.
 */
function copyHalves(
  order: [number, number, number],
  lines: Lines,
  at: number,
  count: number,
  y: number,
  planes: Planes,
): void {
  const { width, data, isOpaque } = planes;
  const { bytes } = lines;
  const [r, g, b] = order.map((slot) => bytesAt(lines, at + slot * count * 2, 2).starts) as [
    number[],
    number[],
    number[],
  ];
  const [r0, r1, g0, g1, b0, b1] = [...r, ...g, ...b] as [number, number, number, number, number, number];
  const { step } = bytesAt(lines, at, 2);
  for (let x = 0, from = 0, to = y * width * 4; x < count; x++, from += step, to += 4) {
    const red = bytes[r0 + from]! | (bytes[r1 + from]! << 8);
    const green = bytes[g0 + from]! | (bytes[g1 + from]! << 8);
    const blue = bytes[b0 + from]! | (bytes[b1 + from]! << 8);
    data[to] = HALVES[red]!;
    data[to + 1] = HALVES[green]!;
    data[to + 2] = HALVES[blue]!;
    if (isOpaque) data[to + 3] = 1;
    // An exponent of all ones is infinite, or no number.
    if ((red & EXPONENT) === EXPONENT || (green & EXPONENT) === EXPONENT || (blue & EXPONENT) === EXPONENT)
      planes.isFinite = false;
  }
}

/**
 * Where the bytes of a line's samples stand: each byte of the first sample, lowest first, and from sample to sample.
 */
function bytesAt({ bytes, isSplit }: Lines, at: number, size: number): { starts: number[]; step: number } {
  if (!isSplit) return { starts: Array.from({ length: size }, (_, i) => at + i), step: size };
  const [even, odd] = [at >> 1, ((bytes.length + 1) >> 1) + (at >> 1)];
  return { starts: Array.from({ length: size }, (_, i) => (i & 1 ? odd : even) + (i >> 1)), step: size >> 1 };
}

function copyLine(
  { type, bytes: size }: Channel,
  lines: Lines,
  at: number,
  count: number,
  left: number,
  y: number,
  planes: Planes,
  slot: Exclude<ChannelSlot, null>,
): void {
  const { width } = planes;
  const first = Math.max(0, -left);
  const end = Math.min(count, width - left);
  const out = slot === "depth" ? planes.z! : typeof slot === "object" ? slot.data : planes.data;
  const stride = out === planes.data ? 4 : 1;
  const offset = typeof slot === "number" ? slot : 0;
  let to = (y * width + left + first) * stride + offset;
  const { bytes } = lines;
  const { starts, step } = bytesAt(lines, at, size);
  const [b0, b1, b2, b3] = starts as [number, number, number, number];
  if (type === "half") {
    for (let x = first, from = first * step; x < end; x++, from += step, to += stride)
      out[to] = HALVES[bytes[b0 + from]! | (bytes[b1 + from]! << 8)]!;
  } else {
    const words = wordsOf(count, type);
    for (let x = 0, from = 0, at4 = 0; x < count; x++, from += step, at4 += 4) {
      joined[at4] = bytes[b0 + from]!;
      joined[at4 + 1] = bytes[b1 + from]!;
      joined[at4 + 2] = bytes[b2 + from]!;
      joined[at4 + 3] = bytes[b3 + from]!;
    }
    for (let x = first; x < end; x++, to += stride) out[to] = words[x]!;
  }
  if (slot !== "grey") return;
  for (let x = first, pixel = (y * width + left + first) * 4; x < end; x++, pixel += 4)
    out[pixel + 1] = out[pixel + 2] = out[pixel]!;
}

/** A line's samples of 32 bits, their bytes joined; kept from line to line. */
let joined = new Uint8Array(0);

/** The joined bytes as numbers, with room for `count` of them. */
function wordsOf(count: number, type: Channel["type"]): Float32Array | Uint32Array {
  if (joined.length < count * 4) joined = new Uint8Array(count * 4);
  return type === "float" ? new Float32Array(joined.buffer, 0, count) : new Uint32Array(joined.buffer, 0, count);
}
