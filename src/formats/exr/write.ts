import { rateFraction } from "../../core/image/rate";
import { AP1, type Primaries } from "../../core/colour/primaries";
import {
  type Box,
  type HeaderAttribute,
  type Layer,
  type Metadata,
  type Picture,
  RECIPE_FIELD,
  RECIPE_TERMS_FIELD,
  type RecordedLens,
} from "../format";
import { isCarried, LONG_NAME, REEL_FIELD, SHORT_NAME } from "./attributes";
import { deflatedChunk, pack, type WrittenCompression } from "./compression";
import { isOpaque } from "../../core/image/image";
import { halfOfBits } from "../../core/maths/half";
import { CHUNK_LINES, type Channel, COMPRESSIONS, timeCodeBits, timeCodeText } from "./header";

export interface ExrOptions extends Metadata {
  depth: "half" | "float";
  compression?: WrittenCompression;
  primaries?: Primaries | null;
}

function attribute(name: string, type: string, value: Buffer): Buffer {
  const size = Buffer.alloc(4);
  size.writeInt32LE(value.length);
  return Buffer.concat([Buffer.from(`${name}\0${type}\0`, "latin1"), size, value]);
}

const integers = (...values: number[]) => {
  const buffer = Buffer.alloc(values.length * 4);
  values.forEach((value, i) => buffer.writeInt32LE(value | 0, i * 4));
  return buffer;
};
const floats = (...values: number[]) => Buffer.from(Float32Array.from(values).buffer);

type Field = Pick<HeaderAttribute, "name" | "type" | "value">;

const DEFAULT_SCREEN: Field[] = [
  { name: "screenWindowCenter", type: "v2f", value: floats(0, 0) },
  { name: "screenWindowWidth", type: "float", value: floats(1) },
];

/** What a field carried from another file already says: the same number need not be said again under another name. */
const says = (carried: readonly Field[], names: readonly string[], value: number) =>
  carried.some(
    (field) =>
      names.includes(field.name) && field.value.length === 4 && Math.fround(value) === field.value.readFloatLE(0),
  );

/** The lens as fields of the standard, where the fields that are carried do not say it. */
function lensFields({ focalLength, stop, focusDistance, sensor }: RecordedLens, carried: readonly Field[]): Field[] {
  const one = (name: string, value: number | undefined, others: string[] = []): Field[] =>
    value === undefined || says(carried, [name, ...others], value)
      ? []
      : [{ name, type: "float", value: floats(value) }];
  return [
    ...one("effectiveFocalLength", focalLength, ["nominalFocalLength"]),
    ...one("tStop", stop),
    ...one("focus", focusDistance),
    ...(sensor ? [{ name: "sensorOverallDimensions", type: "v2f", value: floats(sensor.width, sensor.height) }] : []),
  ];
}

/** Rate and time code, unless what is carried says the same, with its flags and user bits. */
function timeFields({ framesPerSecond, timeCode }: ExrOptions, carried: readonly Field[]): Field[] {
  const of = (name: string) => carried.find((field) => field.name === name && field.value.length === 8)?.value;
  const [rate, code] = [of("framesPerSecond"), of("timeCode")];
  const isSameRate = rate && Math.abs(rate.readInt32LE(0) / rate.readUInt32LE(4) - (framesPerSecond ?? 0)) < 1e-6;
  const bits = timeCode === undefined ? null : timeCodeBits(timeCode);
  return [
    ...(framesPerSecond && !isSameRate
      ? [{ name: "framesPerSecond", type: "rational", value: integers(...rateFraction(framesPerSecond)) }]
      : []),
    ...(bits !== null && !(code && timeCodeText(code.readUInt32LE(0)) === timeCode)
      ? [{ name: "timeCode", type: "timecode", value: integers(bits, 0) }]
      : []),
  ];
}

/** The reel's name, unless what is carried says one. */
const reelField = ({ reel }: ExrOptions, carried: readonly Field[]): Field[] =>
  reel === undefined || carried.some(({ name }) => name === REEL_FIELD)
    ? []
    : [{ name: REEL_FIELD, type: "string", value: Buffer.from(reel, "utf8") }];

/** Every field of a header: this file's own layout, what is said of it, and what is carried from another file. */
function fieldsOf({ width, height }: Picture, channels: Channel[], options: ExrOptions): Field[] {
  const { compression = "ZIP", primaries = AP1, lens = {}, text = {}, windows, pixelAspect = 1 } = options;
  const types = ["uint", "half", "float"];
  const list = Buffer.concat([
    ...channels.map(({ name, type }) =>
      Buffer.concat([Buffer.from(`${name}\0`), integers(types.indexOf(type), 0, 1, 1)]),
    ),
    Buffer.of(0),
  ]);
  const whole = { left: 0, top: 0, right: width - 1, bottom: height - 1 };
  const { data, display } = windows ?? { data: whole, display: whole };
  const box = ({ left, top, right, bottom }: Box) => integers(left, top, right, bottom);
  const carried = (options.attributes ?? []).filter(({ name }) => isCarried(name));
  const own: Field[] = [
    { name: "channels", type: "chlist", value: list },
    ...(primaries
      ? [
          {
            name: "chromaticities",
            type: "chromaticities",
            value: floats(...primaries.red, ...primaries.green, ...primaries.blue, ...primaries.white),
          },
        ]
      : []),
    { name: "compression", type: "compression", value: Buffer.of(COMPRESSIONS.indexOf(compression)) },
    { name: "dataWindow", type: "box2i", value: box(data) },
    { name: "displayWindow", type: "box2i", value: box(display) },
    { name: "lineOrder", type: "lineOrder", value: Buffer.of(0) },
    { name: "pixelAspectRatio", type: "float", value: floats(pixelAspect) },
    ...timeFields(options, carried),
    ...lensFields(lens, carried),
    ...reelField(options, carried),
    ...Object.entries(text)
      // A carried field of another kind that bears a text's name is the one that is meant.
      .filter(([name]) => !carried.some((field) => field.name === name && field.type !== "string"))
      .filter(([name]) => [RECIPE_FIELD, RECIPE_TERMS_FIELD].includes(name) || isCarried(name))
      .map(([name, value]) => ({ name, type: "string", value: Buffer.from(value, "utf8") })),
  ];
  // The first of a name is the one that is meant.
  const all = new Map<string, Field>();
  for (const field of [...own, ...carried, ...DEFAULT_SCREEN]) if (!all.has(field.name)) all.set(field.name, field);
  return [...all.values()].filter(({ name }) => name.length > 0 && name.length <= LONG_NAME);
}

/** OpenEXR's version 2, and the flag of names over 31 characters. */
const [MAGIC, VERSION, LONG_NAMES] = [20000630, 2, 0x400];

function headerOf(picture: Picture, channels: Channel[], options: ExrOptions): Buffer {
  const fields = fieldsOf(picture, channels, options);
  const hasLong = [...fields, ...channels].some(({ name }) => name.length > SHORT_NAME);
  return Buffer.concat([
    integers(MAGIC, VERSION | (hasLong ? LONG_NAMES : 0)),
    ...fields.map(({ name, type, value }) => attribute(name, type, value)),
    Buffer.of(0),
  ]);
}

/** A plane's samples by their bits, `stride` apart from `first`. */
interface Samples {
  bits: Uint32Array;
  stride: number;
  first: number;
  /** They are written as halves, and else as they are. */
  isHalf: boolean;
}

type ChannelSamples = Channel & Samples;

const channelOf = (name: string, type: Channel["type"]): Channel => ({
  name,
  type,
  bytes: type === "half" ? 2 : 4,
  linear: false,
  subsampled: false,
});

const samplesOf = (
  name: string,
  type: Channel["type"],
  data: Float32Array | Uint32Array,
  stride = 1,
  first = 0,
): ChannelSamples => ({
  ...channelOf(name, type),
  bits: new Uint32Array(data.buffer, data.byteOffset, data.length),
  ...{ stride, first, isHalf: type === "half" },
});

/** Lines of channels one after another, rows from `top` on. */
function rawLines(channels: readonly Samples[], width: number, top: number, count: number, bytes: number): Buffer {
  const raw = Buffer.allocUnsafe(count * bytes);
  let to = 0;
  for (let y = top; y < top + count; y++)
    for (const { bits, stride, first, isHalf } of channels)
      for (let x = 0, from = y * width * stride + first; x < width; x++, from += stride)
        to = isHalf ? raw.writeUInt16LE(halfOfBits(bits[from]!), to) : raw.writeUInt32LE(bits[from]!, to);
  return raw;
}

/**
 * The same as `predict` gives them, in one going: low bytes of words of 16 bits and then high ones, each less the one
 * before it. `bytes`: of a line.
 */
export function predictedLines(
  channels: readonly Samples[],
  width: number,
  top: number,
  count: number,
  bytes: number,
): Buffer {
  const half = (count * bytes) / 2;
  const out = Buffer.allocUnsafe(2 * half);
  let [to, low, high] = [0, 0, 0];
  for (let y = top; y < top + count; y++)
    for (const { bits, stride, first, isHalf } of channels)
      for (let x = 0, from = y * width * stride + first; x < width; x++, from += stride) {
        const own = bits[from]!;
        const word = isHalf ? halfOfBits(own) : own & 0xffff;
        out[to] = word - low + PREDICTED;
        out[half + to] = (word >> 8) - high + PREDICTED;
        low = word;
        high = word >> 8;
        to++;
        if (isHalf) continue;
        const upper = own >>> 16;
        out[to] = upper - low + PREDICTED;
        out[half + to] = (upper >> 8) - high + PREDICTED;
        low = upper;
        high = upper >> 8;
        to++;
      }
  // The very first byte stands as it is, and the first high one follows the last low one.
  out[0] = out[0]! - PREDICTED;
  out[half] = out[half]! - low;
  return out;
}

/** What a difference of bytes is counted from. */
const PREDICTED = 128;

/** Layers that do not bear the name of one of the picture's own channels: the others have no room. */
export const layersToWrite = ({ layers = [], z }: Pick<Picture, "layers" | "z">, hasAlpha: boolean): Layer[] =>
  layers.filter(({ name }) => !["R", "G", "B", ...(hasAlpha ? ["A"] : []), ...(z ? ["Z"] : [])].includes(name));

/**
 * An OpenEXR file of RGB, A where there is alpha, and Z as 32-bit floats where there is a depth plane. Whole, or not at
 * all.
 */
export async function writeExr(picture: Picture, options: ExrOptions): Promise<Buffer> {
  const { width, height, data, z } = picture;
  const { depth, compression = "ZIP" } = options;
  const hasAlpha = picture.hasAlpha ?? !isOpaque(data);
  const channels: ChannelSamples[] = [
    ...[...(hasAlpha ? ["A"] : []), "B", "G", "R"].map((name) => samplesOf(name, depth, data, 4, "RGBA".indexOf(name))),
    ...(z ? [samplesOf("Z", "float", z)] : []),
    ...layersToWrite(picture, hasAlpha).map((layer) => samplesOf(layer.name, layer.type, layer.data)),
    // The format stores channels in the order of their names' bytes.
  ].sort((one, other) => (one.name < other.name ? -1 : 1));
  const lineBytes = width * channels.reduce((sum, { bytes: size }) => sum + size, 0);
  const perChunk = CHUNK_LINES[compression];
  const first = options.windows?.data.top ?? 0;
  // The usual file: its lines need not be made to be taken apart again.
  const isFused = compression === "ZIP" || compression === "ZIPS";
  const bodyOf = async (top: number, count: number): Promise<Buffer> => {
    const raw = () => rawLines(channels, width, top, count, lineBytes);
    if (!isFused) return pack(compression, raw(), channels, width, count);
    const packed = await deflatedChunk(predictedLines(channels, width, top, count, lineBytes));
    return packed.length < count * lineBytes ? packed : raw();
  };
  const chunkAt = async (top: number): Promise<[Buffer, Buffer]> => {
    const count = Math.min(perChunk, height - top);
    const body = await bodyOf(top, count);
    return [integers(first + top, body.length), body];
  };
  const chunks = (
    await Promise.all(Array.from({ length: Math.ceil(height / perChunk) }, (_, i) => chunkAt(i * perChunk)))
  ).flat();
  const header = headerOf(picture, channels, options);
  const table = Buffer.alloc(chunks.length * 4);
  let offset = header.length + table.length;
  for (let i = 0; i < chunks.length; i += 2) {
    table.writeBigUInt64LE(BigInt(offset), i * 4);
    offset += chunks[i]!.length + chunks[i + 1]!.length;
  }
  return Buffer.concat([header, table, ...chunks]);
}
