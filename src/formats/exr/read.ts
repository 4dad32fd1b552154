import { inflateSync } from "node:zlib";
import type { RawImage } from "../../core/image/image";
import { FileError } from "../error";
import { halfToFloat } from "./half";
import { CHUNK_LINES, type Channel, type ExrHeader, readHeader } from "./header";
import { decodePiz } from "./piz";

/** Undoes the byte predictor and the split into even and odd bytes that RLE and ZIP chunks share. */
function reconstruct(bytes: Buffer): Buffer {
  for (let i = 1; i < bytes.length; i++) bytes[i] = (bytes[i - 1]! + bytes[i]! - 128) & 255;
  const out = Buffer.allocUnsafe(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0; i < half; i++) out[2 * i] = bytes[i]!;
  for (let i = half; i < bytes.length; i++) out[2 * (i - half) + 1] = bytes[i]!;
  return out;
}

function expandRuns(source: Buffer, size: number): Buffer {
  const out = Buffer.alloc(size);
  let from = 0;
  let to = 0;
  while (from < source.length) {
    const count = source.readInt8(from++);
    const length = count < 0 ? -count : count + 1;
    if (to + length > size || from + (count < 0 ? length : 1) > source.length) throw new Error("an RLE chunk is damaged");
    if (count < 0) source.copy(out, to, from, from + length);
    else out.fill(source[from]!, to, to + length);
    from += count < 0 ? length : 1;
    to += length;
  }
  if (to !== size) throw new Error("an RLE chunk is cut off");
  return out;
}

/** A PIZ chunk holds whole planes; this lays them out line by line, channel by channel, like the others. */
function linesFromPiz(source: Buffer, channels: Channel[], width: number, lines: number): Buffer {
  const planes = channels.map(({ bytes }) => ({ width, height: lines, words: bytes / 2 }));
  const words = decodePiz(source, planes);
  const out = Buffer.allocUnsafe(words.length * 2);
  let to = 0;
  for (let line = 0; line < lines; line++) {
    let plane = 0;
    for (const { words: perPixel } of planes) {
      const row = plane + line * width * perPixel;
      for (let i = 0; i < width * perPixel; i++, to += 2) out.writeUInt16LE(words[row + i]!, to);
      plane += width * lines * perPixel;
    }
  }
  return out;
}

function unpack(header: ExrHeader, source: Buffer, width: number, lines: number): Buffer {
  const size = lines * width * header.channels.reduce((sum, { bytes }) => sum + bytes, 0);
  if (source.length === size || header.compression === "none") {
    if (source.length < size) throw new Error("a chunk is cut off");
    return source;
  }
  switch (header.compression) {
    case "RLE":
      return reconstruct(expandRuns(source, size));
    case "PIZ":
      return linesFromPiz(source, header.channels, width, lines);
    default: {
      const bytes = inflateSync(source, { maxOutputLength: size });
      if (bytes.length !== size) throw new Error("a chunk is shorter than its lines");
      return reconstruct(bytes);
    }
  }
}

/** The channels that make the picture: R, G, B, A, or Y for all three; and Z. Bare names first, then the first layer's. */
function assignments(file: string, channels: Channel[]): (number | "z" | null)[] {
  const prefix = channels.some(({ name }) => /^[RGBY]$/.test(name)) ? "" : (channels.find(({ name }) => /\.[RGBY]$/.test(name))?.name.replace(/[^.]*$/, "") ?? null);
  if (prefix === null) throw new FileError(file, `has no R, G, B or Y channel (it has ${channels.map(({ name }) => name).slice(0, 8).join(", ")})`);
  const grey = !channels.some(({ name }) => name === `${prefix}R`);
  return channels.map(({ name }) => {
    if (name === `${prefix}Z` || name === "Z" || name === "depth.Z") return "z";
    if (!name.startsWith(prefix)) return null;
    const index = "RGBA".indexOf(name.slice(prefix.length));
    if (grey && name === `${prefix}Y`) return 0;
    return index >= 0 && name.length === prefix.length + 1 ? index : null;
  });
}

/** Reads a flat scan-line OpenEXR file into its display window. Pixels outside the data window are 0. */
export function readExr(file: string, bytes: Buffer): RawImage & { header: ExrHeader } {
  const header = readHeader(file, bytes);
  const { channels, dataWindow, displayWindow, offsets } = header;
  const width = displayWindow.right - displayWindow.left + 1;
  const height = displayWindow.bottom - displayWindow.top + 1;
  const dataWidth = dataWindow.right - dataWindow.left + 1;
  const places = assignments(file, channels);
  const grey = !channels.some(({ name }) => /(^|\.)R$/.test(name));
  const hasAlpha = places.includes(3);
  const data = new Float32Array(width * height * 4);
  if (!hasAlpha) for (let i = 3; i < data.length; i += 4) data[i] = 1;
  const z = places.includes("z") ? new Float32Array(width * height) : undefined;
  const linesInChunk = CHUNK_LINES[header.compression]!;
  for (const [index, offset] of offsets.entries()) {
    const top = bytes.readInt32LE(offset);
    const size = bytes.readInt32LE(offset + 4);
    const lines = Math.min(linesInChunk, dataWindow.bottom - top + 1);
    if (top < dataWindow.top || lines <= 0 || size < 0) throw new FileError(file, `chunk ${index + 1} of ${offsets.length} is damaged`);
    let lineBytes: Buffer;
    try {
      lineBytes = unpack(header, bytes.subarray(offset + 8, offset + 8 + size), dataWidth, lines);
    } catch (error) {
      throw new FileError(file, `chunk ${index + 1} of ${offsets.length} (line ${top}) cannot be read: ${(error as Error).message}`);
    }
    let at = 0;
    for (let line = 0; line < lines; line++) {
      const y = top + line - displayWindow.top;
      for (const [c, channel] of channels.entries()) {
        const place = places[c]!;
        if (place !== null && y >= 0 && y < height) copyLine(channel, lineBytes, at, dataWidth, dataWindow.left - displayWindow.left, width, y, place === "z" ? z! : data, place, grey);
        at += dataWidth * channel.bytes;
      }
    }
  }
  const depth = channels.some(({ type, name }) => type === "float" && !/Z$/.test(name)) ? "float" : "half";
  return { width, height, pixels: { depth, data }, z, header };
}

function copyLine({ type, bytes: size }: Channel, bytes: Buffer, at: number, count: number, left: number, width: number, y: number, out: Float32Array, place: number | "z", grey: boolean): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset + at, count * size);
  const stride = place === "z" ? 1 : 4;
  const first = Math.max(0, -left);
  const end = Math.min(count, width - left);
  for (let x = first; x < end; x++) {
    const value = type === "half" ? halfToFloat(view.getUint16(x * 2, true)) : type === "float" ? view.getFloat32(x * 4, true) : view.getUint32(x * 4, true);
    const to = (y * width + left + x) * stride;
    if (place === "z") out[to] = value;
    else {
      out[to + place] = value;
      if (grey && place === 0) out[to + 1] = out[to + 2] = value;
    }
  }
}
