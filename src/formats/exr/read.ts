import { REEL_FIELD } from "./attributes";
import { canvasOf, NO_OVERSCAN, overscanOf, wholeOverscan } from "../../core/image/overscan";
import { FileError } from "../error";
import type { Box, Choice, Decoded, Layer } from "../format";
import { type Chunk, chunksOf } from "./chunks";
import { type Lines, unpack } from "./compression";
import { HALVES } from "../../core/maths/half";
import { type Channel, type ExrFile, type PartHeader, readHeaders } from "./header";
import { depthChannelOf, layersBeside, layersOf, slotsOf, type ChannelSlot } from "./layers";

/** The part to read: the one named, or the first that holds a picture. */
function choosePart(file: string, { parts }: ExrFile, named?: string): number {
  const names = parts.map(({ name }) => name).join(", ");
  if (named !== undefined) {
    const found = parts.findIndex(({ name }) => name === named);
    if (found < 0) throw new FileError(file, `has no part “${named}”; it has ${names}`);
    return found;
  }
  const found = parts.findIndex((part) => !part.deep && layersOf(part).length > 0);
  if (found < 0) {
    if (parts.some(({ deep }) => deep)) throw new FileError(file, "holds deep data; flat images are read");
    throw new FileError(
      file,
      `has no R, G, B or Y channel (it has ${parts
        .flatMap(({ channels }) => channels.map(({ name }) => name))
        .slice(0, 12)
        .join(", ")})`,
    );
  }
  return found;
}

function chooseLayer(file: string, part: PartHeader, named?: string): string {
  const layers = layersOf(part);
  if (named === undefined) return layers[0]!;
  if (!layers.includes(named))
    throw new FileError(
      file,
      `has no layer “${named}”; it has ${layers.map((layer) => layer || "(the bare one)").join(", ")}`,
    );
  return named;
}

interface Planes {
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

/** Refuses a part whose pixels all lie outside the picture that is shown: it would read as black. */
function refuseApart(file: string, { dataWindow: data, displayWindow: shown }: PartHeader): void {
  const isApart =
    data.right < shown.left || data.left > shown.right || data.bottom < shown.top || data.top > shown.bottom;
  const text = ({ left, top, right, bottom }: Box) => `${left}, ${top} to ${right}, ${bottom}`;
  if (isApart)
    throw new FileError(
      file,
      `its data window (${text(data)}) lies wholly outside its display window (${text(shown)}); there is nothing to see`,
    );
}

/**
 * Reads a flat OpenEXR image, scan lines or tiles (their first level), into its display window, and where it is chosen
 * what lies around it. Pixels outside the data window are 0; colour without alpha is opaque. A depth plane may stand in
 * the part or, by name, in another.
 */
export async function readExr(file: string, bytes: Buffer, choice: Choice = {}): Promise<Decoded> {
  const exr = readHeaders(file, bytes);
  const index = choosePart(file, exr, choice.part);
  const part = exr.parts[index]!;
  if (part.deep) throw new FileError(file, "holds deep data; flat images are read");
  const layer = chooseLayer(file, part, choice.layer);
  const { displayWindow } = part;
  refuseApart(file, part);
  const shown = {
    width: displayWindow.right - displayWindow.left + 1,
    height: displayWindow.bottom - displayWindow.top + 1,
  };
  const wanted = choice.overscan === "all" ? wholeOverscan : overscanOf;
  const overscan = (choice.overscan && wanted(part.dataWindow, displayWindow)) || undefined;
  const { width, height } = canvasOf(shown, overscan ?? NO_OVERSCAN);
  const corner = { left: displayWindow.left - (overscan?.left ?? 0), top: displayWindow.top - (overscan?.top ?? 0) };
  const depthChannel = findDepth(file, exr, index, choice.depthChannel);
  const depth = choice.withoutDepth ? null : depthChannel;
  const slots = slotsOf(part, layer, depth?.part === index ? depth.name : undefined);
  const layers = choice.layers ? besideIn(file, part, slots, width * height) : [];
  const isOpaque = !slots.includes(3);
  const samples = width * height * 4;
  const isFilled = isOpaque && fillsAll(part, slots, { width, height, ...corner });
  const data = (isFilled && choice.memory?.(samples)) || new Float32Array(samples);
  // What is copied whole is made opaque as it is copied.
  if (isOpaque && !isFilled) for (let i = 3; i < samples; i += 4) data[i] = 1;
  const planes: Planes = { width, height, ...corner, data, isOpaque, isFinite: true };
  if (depth) planes.z = new Float32Array(width * height);
  const all = slots.map((slot, i) => slot ?? layers.find(({ name }) => name === part.channels[i]!.name) ?? null);
  await fill(file, bytes, exr, index, all, planes);
  if (depth && depth.part !== index)
    await fill(
      file,
      bytes,
      exr,
      depth.part,
      exr.parts[depth.part]!.channels.map(({ name }): ChannelSlot => (name === depth.name ? "depth" : null)),
      planes,
    );
  const colour = part.channels.filter((_, i) => slots[i] !== null && slots[i] !== "depth");
  const sampleDepth = colour.some(({ type }) => type !== "half") ? "float" : "half";
  const { channels, compression, dataWindow, tile, chromaticities, text } = part;
  const { framesPerSecond, timeCode, lens, pixelAspect, attributes } = part;
  const parts =
    exr.parts.length > 1
      ? exr.parts.map(({ name, channels: own }) => ({ name, channels: own.map((channel) => channel.name) }))
      : undefined;
  return {
    width,
    height,
    pixels: { depth: sampleDepth, data: planes.data },
    isFinite: planes.isFinite,
    ...(slots.includes(3) ? { alpha: "associated" as const } : {}),
    z: planes.z,
    ...(overscan ? { overscan } : {}),
    ...(layers.length ? { layers } : {}),
    info: {
      ...shown,
      depth: sampleDepth,
      channels: channels.map(({ name }) => name),
      depthChannel: depthChannel?.name,
      compression,
      dataWindow,
      displayWindow,
      tile,
      parts,
      chosen: { part: part.name, layer },
      framesPerSecond,
      timeCode,
      reel: text[REEL_FIELD],
      lens,
      pixelAspect,
      attributes,
      tags: { chromaticities },
      text,
    },
  };
}

/** The depth channel: of the chosen part, or, where it is named, of any part of the same size. */
function findDepth(
  file: string,
  { parts }: ExrFile,
  index: number,
  named?: string,
): { part: number; name: string } | null {
  const own = depthChannelOf(parts[index]!.channels, named);
  if (own && parts[index]!.channels.some(({ name }) => name === own)) return { part: index, name: own };
  if (named === undefined) return null;
  const elsewhere = parts.findIndex(({ channels, deep }) => !deep && channels.some(({ name }) => name === named));
  if (elsewhere < 0)
    throw new FileError(
      file,
      `has no channel “${named}” for depth; it has ${parts
        .flatMap(({ channels }) => channels.map(({ name }) => name))
        .slice(0, 12)
        .join(", ")}`,
    );
  return { part: elsewhere, name: named };
}

/** The layers beside the picture's own channels. Throws FileError where they are too much. */
function besideIn(file: string, part: PartHeader, slots: ChannelSlot[], pixels: number): Layer[] {
  try {
    return layersBeside(part, slots, pixels);
  } catch (error) {
    throw error instanceof RangeError ? new FileError(file, error.message) : error;
  }
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

async function fill(
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
const fillsAll = (
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
