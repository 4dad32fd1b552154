import { deflateSync } from "node:zlib";
import { isOpaque, quantise } from "../../core/image/image";
import type { Picture, WriteOptions } from "../format";
import { NOTE_NAMES, NOTE_TAGS } from "../notes";
import { densityOf } from "../raster/aspect";

/** TIFF 6.0, little-endian: tags, types and values that are written. */
const TYPE = { ascii: 2, short: 3, long: 4, rational: 5 } as const;
const TAG = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  stripOffsets: 273,
  samplesPerPixel: 277,
  rowsPerStrip: 278,
  stripBytes: 279,
  resolutionX: 282,
  resolutionY: 283,
  planar: 284,
  resolutionUnit: 296,
  software: 305,
  predictor: 317,
  extraSamples: 338,
  sampleFormat: 339,
} as const;
const DEFLATE = 8;
const NO_COMPRESSION = 1;
const HORIZONTAL = 2;
const STRIP_BYTES = 2 ** 17;
const LEVEL = 4;

/** Differences along each line, in place, from its end. */
function differences(samples: Uint8Array | Uint16Array, channels: number, perLine: number): void {
  for (let line = samples.length - perLine; line >= 0; line -= perLine)
    for (let i = line + perLine - 1; i >= line + channels; i--) samples[i] = samples[i]! - samples[i - channels]!;
}

/**
 * A TIFF file of 8 or 16 bits or 32-bit floats, RGB, or RGBA where any pixel is not opaque; deflated, or plain with
 * compression "none".
 */
export function writeTiff(
  { width, height, data }: Picture,
  { depth, compression = "deflate", text = {}, notes = {}, pixelAspect = 1 }: WriteOptions,
): Buffer {
  if (depth !== "8" && depth !== "16" && depth !== "float")
    throw new RangeError(`TIFF is written with 8 or 16 bits or float, not ${depth}`);
  const channels = isOpaque(data) ? 3 : 4;
  const perLine = width * channels;
  const rgba = depth === "float" ? data : quantise(data, depth);
  const samples =
    depth === "float"
      ? new Float32Array(perLine * height)
      : depth === "8"
        ? new Uint8Array(perLine * height)
        : new Uint16Array(perLine * height);
  for (let i = 0, to = 0; i < rgba.length; i += 4) for (let c = 0; c < channels; c++) samples[to++] = rgba[i + c]!;
  const deflated = compression !== "none";
  const predicted = deflated && !(samples instanceof Float32Array);
  if (predicted) differences(samples as Uint8Array, channels, perLine);
  const rows = Math.max(1, Math.floor(STRIP_BYTES / (perLine * samples.BYTES_PER_ELEMENT)));
  const strips: Buffer[] = [];
  for (let y = 0; y < height; y += rows) {
    const raw = Buffer.from(
      samples.buffer,
      y * perLine * samples.BYTES_PER_ELEMENT,
      Math.min(rows, height - y) * perLine * samples.BYTES_PER_ELEMENT,
    );
    strips.push(deflated ? deflateSync(raw, { level: LEVEL }) : raw);
  }
  const bits = samples.BYTES_PER_ELEMENT * 8;
  const same = (value: number) => Array<number>(channels).fill(value);
  const words = (value: string) => Buffer.from(`${value}\0`, "utf8");
  const [across, down] = densityOf(pixelAspect);
  const offsets: number[] = [];
  let at = 8;
  for (const strip of strips) {
    offsets.push(at);
    at += strip.length + (strip.length & 1);
  }
  const entries: Entry[] = [
    [TAG.width, TYPE.long, [width]],
    [TAG.height, TYPE.long, [height]],
    [TAG.bits, TYPE.short, same(bits)],
    [TAG.compression, TYPE.short, [deflated ? DEFLATE : NO_COMPRESSION]],
    [TAG.photometric, TYPE.short, [2]],
    [TAG.stripOffsets, TYPE.long, offsets],
    [TAG.samplesPerPixel, TYPE.short, [channels]],
    [TAG.rowsPerStrip, TYPE.long, [rows]],
    [TAG.stripBytes, TYPE.long, strips.map(({ length }) => length)],
    [TAG.planar, TYPE.short, [1]],
    ...(pixelAspect === 1
      ? []
      : ([
          // Without a unit: pixels that are not square.
          [TAG.resolutionX, TYPE.rational, [across, 1]],
          [TAG.resolutionY, TYPE.rational, [down, 1]],
          [TAG.resolutionUnit, TYPE.short, [1]],
        ] as Entry[])),
    [TAG.software, TYPE.ascii, words(text.Software ?? "Pale Halo")],
    ...NOTE_NAMES.flatMap((name): Entry[] => (notes[name] ? [[NOTE_TAGS[name], TYPE.ascii, words(notes[name])]] : [])),
    ...(predicted ? ([[TAG.predictor, TYPE.short, [HORIZONTAL]]] as Entry[]) : []),
    ...(channels === 4 ? ([[TAG.extraSamples, TYPE.short, [2]]] as Entry[]) : []),
    [TAG.sampleFormat, TYPE.short, same(depth === "float" ? 3 : 1)],
  ];
  // The standard has them in the order of their numbers.
  entries.sort(([one], [other]) => one - other);
  const head = Buffer.alloc(8);
  head.write("II*\0", "latin1");
  head.writeUInt32LE(at, 4);
  return Buffer.concat([
    head,
    ...strips.flatMap((strip) => (strip.length & 1 ? [strip, Buffer.of(0)] : [strip])),
    directory(entries, at),
  ]);
}

/** A tag, its type, and its values: two numbers for each rational, texts as bytes. */
type Entry = [number, number, number[] | Buffer];

/** The image's directory, which stands at byte `at`, and behind it the values that do not fit in it. */
function directory(entries: Entry[], at: number): Buffer {
  const out = Buffer.alloc(2 + entries.length * 12 + 4);
  out.writeUInt16LE(entries.length);
  const behind: Buffer[] = [];
  let behindAt = at + out.length;
  entries.forEach(([tag, type, values], i) => {
    const entry = 2 + i * 12;
    const bytes = Buffer.isBuffer(values) ? values : Buffer.alloc(values.length * (type === TYPE.short ? 2 : 4));
    if (!Buffer.isBuffer(values))
      values.forEach((value, k) =>
        type === TYPE.short ? bytes.writeUInt16LE(value, k * 2) : bytes.writeUInt32LE(value, k * 4),
      );
    out.writeUInt16LE(tag, entry);
    out.writeUInt16LE(type, entry + 2);
    out.writeUInt32LE(type === TYPE.rational ? values.length / 2 : values.length, entry + 4);
    if (bytes.length <= 4) bytes.copy(out, entry + 8);
    else {
      out.writeUInt32LE(behindAt, entry + 8);
      const padded = bytes.length & 1 ? Buffer.concat([bytes, Buffer.of(0)]) : bytes;
      behind.push(padded);
      behindAt += padded.length;
    }
  });
  return Buffer.concat([out, ...behind]);
}
