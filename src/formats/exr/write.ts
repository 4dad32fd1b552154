import { rateFraction } from "../../core/image/rate";
import { AP1, type Primaries } from "../../core/colour/primaries";
import type { Box, Metadata, Picture } from "../format";
import { pack, type WrittenCompression } from "./compression";
import { isOpaque } from "../../core/image/image";
import { floatsToHalves } from "../../core/maths/half";
import { CHUNK_LINES, type Channel, COMPRESSIONS, timeCodeBits } from "./header";

export interface ExrOptions extends Metadata {
  depth: "half" | "float";
  compression?: WrittenCompression;
  primaries?: Primaries | null;
  /** px, inclusive: where the picture's pixels lie, and what of them is shown. Default: both the picture, from 0. */
  windows?: { data: Box; display: Box };
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

const MAX_TEXT_NAME_LENGTH = 31;

function headerOf(
  { width, height }: Picture,
  channels: Channel[],
  { compression = "ZIP", primaries = AP1, framesPerSecond, timeCode, lens = {}, text = {}, windows }: ExrOptions,
): Buffer {
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
  const timeBits = timeCode === undefined ? null : timeCodeBits(timeCode);
  const reserved = new Set(["name", "type", "view"]);
  return Buffer.concat([
    integers(20000630, 2),
    attribute("channels", "chlist", list),
    ...(primaries
      ? [
          attribute(
            "chromaticities",
            "chromaticities",
            floats(...primaries.red, ...primaries.green, ...primaries.blue, ...primaries.white),
          ),
        ]
      : []),
    attribute("compression", "compression", Buffer.of(COMPRESSIONS.indexOf(compression))),
    attribute("dataWindow", "box2i", box(data)),
    attribute("displayWindow", "box2i", box(display)),
    ...(framesPerSecond ? [attribute("framesPerSecond", "rational", integers(...rateFraction(framesPerSecond)))] : []),
    attribute("lineOrder", "lineOrder", Buffer.of(0)),
    attribute("pixelAspectRatio", "float", floats(1)),
    attribute("screenWindowCenter", "v2f", floats(0, 0)),
    attribute("screenWindowWidth", "float", floats(1)),
    ...(timeBits === null ? [] : [attribute("timeCode", "timecode", integers(timeBits, 0))]),
    ...Object.entries({
      effectiveFocalLength: lens.focalLength,
      tStop: lens.stop,
      focus: lens.focusDistance,
    }).flatMap(([name, value]) => (value === undefined ? [] : [attribute(name, "float", floats(value))])),
    ...(lens.sensor
      ? [attribute("sensorOverallDimensions", "v2f", floats(lens.sensor.width, lens.sensor.height))]
      : []),
    ...Object.entries(text)
      .filter(([name]) => !reserved.has(name) && name.length > 0 && name.length <= MAX_TEXT_NAME_LENGTH)
      .map(([name, value]) => attribute(name, "string", Buffer.from(value, "utf8"))),
    Buffer.of(0),
  ]);
}

/** Puts a plane's samples, `stride` apart from `first`, on a line of the raw chunk; returns the byte after them. */
type Line = (raw: Buffer, at: number, y: number) => number;

/**
 * An OpenEXR file of RGB, A where there is alpha, and Z as 32-bit floats where there is a depth plane. Whole, or not at
 * all.
 */
export async function writeExr(picture: Picture, options: ExrOptions): Promise<Buffer> {
  const { width, height, data, z } = picture;
  const { depth, compression = "ZIP" } = options;
  const hasAlpha = picture.hasAlpha ?? !isOpaque(data);
  const type = depth;
  const bytes = depth === "half" ? 2 : 4;
  const channel = (name: string, kind: Channel["type"], size: number): Channel => ({
    name,
    type: kind,
    bytes: size,
    linear: false,
    subsampled: false,
  });
  // The format stores channels in alphabetical order.
  const channels = [
    ...[...(hasAlpha ? ["A"] : []), "B", "G", "R"].map((name) => channel(name, type, bytes)),
    ...(z ? [channel("Z", "float", 4)] : []),
  ];
  const halves = depth === "half" ? floatsToHalves(data) : null;
  const colourLine =
    (c: number): Line =>
    (raw, at, y) => {
      let to = at;
      let from = y * width * 4 + c;
      if (halves) {
        for (let x = 0; x < width; x++, from += 4) {
          const value = halves[from]!;
          raw[to++] = value & 255;
          raw[to++] = value >> 8;
        }
      } else for (let x = 0; x < width; x++, from += 4) to = raw.writeFloatLE(data[from]!, to);
      return to;
    };
  const depthLine: Line = (raw, at, y) => {
    let to = at;
    for (let x = 0; x < width; x++) to = raw.writeFloatLE(z![y * width + x]!, to);
    return to;
  };
  const lines = [...(hasAlpha ? [3] : []), 2, 1, 0].map(colourLine).concat(z ? [depthLine] : []);
  const lineBytes = width * channels.reduce((sum, { bytes: size }) => sum + size, 0);
  const perChunk = CHUNK_LINES[compression];
  const first = options.windows?.data.top ?? 0;
  const chunkAt = async (top: number): Promise<[Buffer, Buffer]> => {
    const count = Math.min(perChunk, height - top);
    const raw = Buffer.allocUnsafe(count * lineBytes);
    let at = 0;
    for (let y = top; y < top + count; y++) for (const line of lines) at = line(raw, at, y);
    const body = await pack(compression, raw, channels, width, count);
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
