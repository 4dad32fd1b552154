/** Lines of one chunk in the memory of the kernels (assembly/lines.ts), which part them into bytes and join them. */
import { readFileSync } from "node:fs";
import { createMemory, growTo } from "../../core/engine/module";
import { built } from "../project";
import type { Lines } from "./compression";
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

/**
 * Rows of samples as the lines of a chunk, a row's channels one after another. `isPredicted`: parted into low and high
 * bytes, each less the one before it, as RLE and ZIP take them; else sample by sample.
 */
export function linesOf(
  channels: readonly Samples[],
  width: number,
  [top, end]: readonly [top: number, end: number],
  isPredicted: boolean,
): Buffer {
  const { memory, ...run } = kernels();
  const half = channels.reduce((sum, { isHalf }) => sum + (isHalf ? 1 : 2), 0) * width * (end - top);
  const planes = [...new Map(channels.map(({ bits, stride }) => [bits, stride]))];
  const rows = planes.map(([bits, stride]) => bits.subarray(top * width * stride, end * width * stride));
  const [low, out, ...places] = takePlaces(memory, [2 * half, 2 * half, ...rows.map(({ byteLength }) => byteLength)]);
  const placeOf = new Map(planes.map(([bits], i) => [bits, places[i]!]));
  rows.forEach((samples, i) => new Uint32Array(memory.buffer, places[i], samples.length).set(samples));
  let at = 0;
  for (let y = 0; y < end - top; y++)
    for (const { bits, stride, first, isHalf } of channels) {
      const from = placeOf.get(bits)! + (y * width * stride + first) * WORD;
      const split = isHalf ? run.splitHalves : run.splitWords;
      split(from, stride * WORD, width, low! + at, low! + half + at);
      at += isHalf ? width : 2 * width;
    }
  if (isPredicted) run.takeDifferences(low!, 2 * half, out!);
  else run.joinBytes(low!, low! + half, half, out!);
  return Buffer.from(new Uint8Array(memory.buffer, out, 2 * half));
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
