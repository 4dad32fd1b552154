/** Lines of one chunk in the memory of the kernels (assembly/lines.ts), which part them into bytes and join them. */
import { readFileSync } from "node:fs";
import { createMemory, growTo } from "../../core/engine/module";
import { built } from "../project";
import type { Channel } from "./header";

/** Places are addresses, bytes; steps are from sample to sample, bytes; counts are of samples, or of bytes. */
interface LineKernels {
  splitHalves(from: number, step: number, count: number, low: number, high: number): void;
  splitWords(from: number, step: number, count: number, low: number, high: number): void;
  joinHalves(low: number, high: number, count: number, to: number, step: number): number;
  joinWords(low: number, high: number, count: number, to: number, step: number): void;
  takeDifferences(bytes: number, count: number, out: number): void;
  addDifferences(bytes: number, count: number): void;
  joinBytes(low: number, high: number, count: number, out: number): void;
  splitBytes(bytes: number, count: number, low: number, high: number): void;
  deflate(bytes: number, count: number, block: number, to: number, room: number): number;
  deflateRoom(): number;
}

interface Kernels extends LineKernels {
  memory: WebAssembly.Memory;
}

let begun: Kernels | null = null;

/** This thread's own kernels, made when lines are first read or written. */
function kernels(): Kernels {
  if (begun) return begun;
  const memory = createMemory();
  const module = new WebAssembly.Module(readFileSync(built("kernels.wasm")));
  const { exports } = new WebAssembly.Instance(module, { env: { memory } });
  return (begun = { ...(exports as unknown as LineKernels), memory });
}

/** The first page is left to the module's own data. */
const FIRST_FREE = 65536;
const ALIGNMENT = 16;

/**
 * Places for so many bytes each, one after another. What lay there before is gone: who takes places is done with them
 * before anything else on this thread is waited for.
 */
function takePlaces(memory: WebAssembly.Memory, sizes: readonly number[]): number[] {
  let end = FIRST_FREE;
  const places = sizes.map((size) => {
    const at = end;
    end += Math.ceil(size / ALIGNMENT) * ALIGNMENT;
    return at;
  });
  growTo(memory, end);
  return places;
}

/** A plane's samples by their bits, `stride` apart from `first`. */
export interface Samples {
  bits: Uint32Array;
  stride: number;
  first: number;
  /** They are written as halves, and else as they are. */
  isHalf: boolean;
}

const WORD = 4;
const RGBA = 4;

/** Rows of samples that become the lines of a chunk, a row's channels one after another. */
export interface Rows {
  channels: readonly Samples[];
  /** px */
  width: number;
  top: number;
  end: number;
}

const bytesOf = ({ channels, width, top, end }: Rows) =>
  channels.reduce((sum, { isHalf }) => sum + (isHalf ? 2 : 4), 0) * width * (end - top);

/** Lays rows in the kernels' memory, parted: their low bytes at `low`, and behind these their high ones. */
function partedAt(low: number, place: number, { channels, width, top, end }: Rows, half: number): void {
  const { memory, ...run } = kernels();
  const places = new Map<Uint32Array, number>();
  for (const { bits, stride } of channels) {
    if (places.has(bits)) continue;
    const samples = bits.subarray(top * width * stride, end * width * stride);
    new Uint32Array(memory.buffer, place, samples.length).set(samples);
    places.set(bits, place);
    place += samples.byteLength;
  }
  let at = low;
  for (let y = 0; y < end - top; y++)
    for (const { bits, stride, first, isHalf } of channels) {
      const from = places.get(bits)! + (y * width * stride + first) * WORD;
      const split = isHalf ? run.splitHalves : run.splitWords;
      split(from, stride * WORD, width, at, half + at);
      at += isHalf ? width : 2 * width;
    }
}

/** Bytes of all planes' rows, as they lie in memory. */
const planeBytes = ({ channels, width, top, end }: Rows) =>
  [...new Map(channels.map(({ bits, stride }) => [bits, stride])).values()].reduce(
    (sum, stride) => sum + stride * width * (end - top) * WORD,
    0,
  );

/** Rows as lines, sample by sample, or (`isPredicted`) parted into low and high bytes, each less the one before it. */
export function linesOf(rows: Rows, isPredicted: boolean): Buffer {
  const { memory, ...run } = kernels();
  const bytes = bytesOf(rows);
  const [low, out, planes] = takePlaces(memory, [bytes, bytes, planeBytes(rows)]) as [number, number, number];
  partedAt(low, planes, rows, bytes / 2);
  if (isPredicted) run.takeDifferences(low, bytes, out);
  else run.joinBytes(low, low + bytes / 2, bytes / 2, out);
  return Buffer.from(new Uint8Array(memory.buffer, out, bytes));
}

/** Low bytes, which are mostly noise, and high ones have blocks of their own, each of at most so many bytes. */
const MAX_BLOCK = 51_200;
/** What a stream may be longer than its bytes: 5 for each block, its ends, and what is written beyond it. */
const BESIDE_BLOCKS = 64;

/** Rows as predicted lines in a zlib stream; null where that would be no shorter. */
export function deflatedLines(rows: Rows): Buffer | null {
  const { memory, ...run } = kernels();
  const bytes = bytesOf(rows);
  const blocks = Math.max(1, Math.ceil(bytes / 2 / MAX_BLOCK));
  const block = Math.max(1, Math.ceil(bytes / 2 / blocks));
  const [low, lines, to, room, planes] = takePlaces(memory, [
    bytes,
    bytes,
    bytes + 10 * blocks + BESIDE_BLOCKS,
    run.deflateRoom(),
    planeBytes(rows),
  ]) as [number, number, number, number, number];
  partedAt(low, planes, rows, bytes / 2);
  run.takeDifferences(low, bytes, lines);
  const length = run.deflate(lines, bytes, block, to, room);
  return length < bytes ? Buffer.from(new Uint8Array(memory.buffer, to, length)) : null;
}

/**
 * A chunk unpacked: lines of channels one after another. `isPredicted`: even bytes first, then the odd ones, each less
 * the one before it, as they were packed.
 */
export interface Lines {
  bytes: Buffer;
  isPredicted: boolean;
}

/** A chunk whose samples are taken, until the next one is opened or anything is waited for. */
export interface OpenChunk {
  /** A line of pixels: opaque black, but for the colours that were taken. */
  pixels: Float32Array;
  /**
   * Takes a channel's line as one of the colours of `pixels`. `at`: words of 16 bits before it. Whether all are halves
   * and finite.
   */
  takeColour(type: Channel["type"], at: number, colour: number): boolean;
  /** A channel's line; whole numbers as such. It stands until the next is taken. */
  takeSamples(type: Channel["type"], at: number): Float32Array | Uint32Array;
}

/** Opens a chunk of lines that are `width` samples long. */
export function openChunk({ bytes, isPredicted }: Lines, width: number): OpenChunk {
  const { memory, ...run } = kernels();
  const half = bytes.length >> 1;
  const sizes = [bytes.length, bytes.length, width * RGBA * WORD, width * WORD];
  const [low, given, row, line] = takePlaces(memory, sizes) as [number, number, number, number];
  new Uint8Array(memory.buffer, isPredicted ? low : given, bytes.length).set(bytes);
  if (isPredicted) run.addDifferences(low, bytes.length);
  else run.splitBytes(given, half, low, low + half);
  const pixels = new Float32Array(memory.buffer, row, width * RGBA);
  for (let i = 0; i < pixels.length; i++) pixels[i] = i % RGBA === RGBA - 1 ? 1 : 0;
  const floats = new Float32Array(memory.buffer, line, width);
  const integers = new Uint32Array(memory.buffer, line, width);
  const takeSamples = (type: Channel["type"], at: number) => {
    if (type === "half") run.joinHalves(low + at, low + half + at, width, line, WORD);
    else run.joinWords(low + at, low + half + at, width, line, WORD);
    return type === "uint" ? integers : floats;
  };
  const takeColour = (type: Channel["type"], at: number, colour: number): boolean => {
    if (type === "half")
      return run.joinHalves(low + at, low + half + at, width, row + colour * WORD, RGBA * WORD) === 1;
    const samples = takeSamples(type, at);
    for (let x = 0; x < width; x++) pixels[x * RGBA + colour] = samples[x]!;
    return false;
  };
  return { pixels, takeColour, takeSamples };
}
