import type { HeaderAttribute, RecordedLens } from "../format";
import { sizeProblem } from "../../core/image/image";
import { FileError } from "../error";
import type { Box } from "../format";
import { Cursor } from "./cursor";

/**
 * OpenEXR file layout, version 2 (openexr.com, "OpenEXR File Layout"): magic, version, one header a part, tables of
 * chunks.
 */
const MAGIC = 20000630;
const FLAGS = { tiled: 0x200, longNames: 0x400, deep: 0x800, multiPart: 0x1000 } as const;
const MAX_CHANNELS = 1024;
const MAX_PARTS = 256;
const MAX_ATTRIBUTES = 4096;
/** Attributes longer than this are not kept, bytes: a picture in the header, at most. */
const MAX_ATTRIBUTE = 4 * 2 ** 20;

export const COMPRESSIONS = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "PXR24", "B44", "B44A", "DWAA", "DWAB"] as const;
export type Compression = (typeof COMPRESSIONS)[number];
/** Lines in a chunk of scan lines. */
export const CHUNK_LINES: Record<Compression, number> = {
  none: 1,
  RLE: 1,
  ZIPS: 1,
  ZIP: 16,
  PIZ: 32,
  PXR24: 16,
  B44: 32,
  B44A: 32,
  DWAA: 32,
  DWAB: 256,
};

export interface Channel {
  name: string;
  type: "uint" | "half" | "float";
  /** A sample's size, bytes. */
  bytes: number;
  /** Not for the logarithmic coding of B44 and DWA. */
  linear: boolean;
  subsampled: boolean;
}

export interface PartHeader {
  name: string;
  channels: Channel[];
  compression: Compression;
  dataWindow: Box;
  displayWindow: Box;
  tile?: { width: number; height: number; levels: "one" | "mipmap" | "ripmap" };
  deep: boolean;
  /** xy of red, green, blue and white. */
  chromaticities?: number[];
  text: Record<string, string>;
  framesPerSecond?: number;
  timeCode?: string;
  lens?: RecordedLens;
  pixelAspect?: number;
  attributes: HeaderAttribute[];
  chunkCount?: number;
}

export interface ExrFile {
  parts: PartHeader[];
  multiPart: boolean;
  /** Where the tables of chunks begin, byte. */
  tableAt: number;
}

const TYPES = [
  ["uint", 4],
  ["half", 2],
  ["float", 4],
] as const;
const LEVELS = ["one", "mipmap", "ripmap"] as const;

export function readHeaders(file: string, bytes: Buffer): ExrFile {
  const bad = (reason: string) => new FileError(file, reason);
  if (bytes.length < 8 || bytes.readInt32LE(0) !== MAGIC) throw bad("is not an OpenEXR file");
  const version = bytes.readInt32LE(4);
  if ((version & 0xff) !== 2) throw bad(`is OpenEXR version ${version & 0xff}; version 2 is read`);
  const multiPart = Boolean(version & FLAGS.multiPart);
  const cursor = new Cursor(bytes, 8, bad);
  const parts: PartHeader[] = [];
  do {
    if (multiPart && cursor.peek() === 0) break;
    if (parts.length >= MAX_PARTS) throw bad(`has more than ${MAX_PARTS} parts`);
    parts.push(readPart(cursor, version, bad, parts.length));
  } while (multiPart);
  if (multiPart) cursor.skip(1);
  if (!parts.length) throw bad("has no parts");
  return { parts, multiPart, tableAt: cursor.at };
}

function readPart(cursor: Cursor, version: number, bad: (reason: string) => FileError, index: number): PartHeader {
  const header: Partial<PartHeader> & Pick<PartHeader, "text" | "attributes"> = { text: {}, attributes: [] };
  let type = version & FLAGS.deep ? "deep" : version & FLAGS.tiled ? "tiledimage" : "scanlineimage";
  for (let count = 0; ; count++) {
    if (count > MAX_ATTRIBUTES) throw bad("the header has too many attributes");
    const name = cursor.name();
    if (!name) break;
    const kind = cursor.name();
    const value = cursor.take(cursor.int());
    if (value.length <= MAX_ATTRIBUTE) header.attributes.push({ name, type: kind, value: Buffer.from(value) });
    if (name === "pixelAspectRatio" && value.length === 4) header.pixelAspect = aspect(value.readFloatLE(0));
    if (name === "channels" && kind === "chlist") header.channels = readChannels(value, bad);
    else if (name === "compression" && value.length === 1) {
      header.compression = COMPRESSIONS[value[0]!];
      if (!header.compression)
        throw bad(`has an unknown compression (${value[0]}); ${COMPRESSIONS.join(", ")} are read`);
    } else if (kind === "box2i" && value.length === 16) {
      const box = {
        left: value.readInt32LE(0),
        top: value.readInt32LE(4),
        right: value.readInt32LE(8),
        bottom: value.readInt32LE(12),
      };
      if (name === "dataWindow") header.dataWindow = box;
      else if (name === "displayWindow") header.displayWindow = box;
    } else if (name === "tiles" && value.length === 9) {
      const levels = LEVELS[value[8]! & 15];
      const [width, height] = [value.readUInt32LE(0), value.readUInt32LE(4)];
      if (!levels || !width || !height || sizeProblem(width, height))
        throw bad(`tiles: a size of ${width}x${height} is not one`);
      header.tile = { width, height, levels };
    } else if (name === "chromaticities" && value.length === 32)
      header.chromaticities = Array.from({ length: 8 }, (_, i) => value.readFloatLE(i * 4));
    else if (name === "framesPerSecond" && value.length === 8)
      header.framesPerSecond = rate(value.readInt32LE(0), value.readUInt32LE(4));
    else if (kind === "float" && value.length === 4) recordLens(header, name, [value.readFloatLE(0)]);
    else if (name === "sensorOverallDimensions" && kind === "v2f" && value.length === 8)
      recordLens(header, name, [value.readFloatLE(0), value.readFloatLE(4)]);
    else if (kind === "timecode" && value.length === 8) header.timeCode = timeCodeText(value.readUInt32LE(0));
    else if (name === "chunkCount" && value.length === 4) header.chunkCount = value.readInt32LE(0);
    else if (kind === "string") {
      const words = value.toString("utf8");
      if (name === "name") header.name = words;
      else if (name === "type") type = words;
      else header.text[name] = words;
    }
  }
  const { channels, compression, dataWindow, displayWindow } = header;
  if (!channels?.length || !compression || !dataWindow || !displayWindow) {
    const missing = Object.entries({ channels, compression, dataWindow, displayWindow })
      .filter(([, value]) => !value)
      .map(([key]) => key);
    throw bad(`the header lacks ${missing.join(", ") || "channels"}`);
  }
  for (const [label, { left, top, right, bottom }] of [
    ["data", dataWindow],
    ["display", displayWindow],
  ] as const) {
    const problem = sizeProblem(right - left + 1, bottom - top + 1);
    if (problem) throw bad(`${label} window: ${problem}`);
  }
  const tiled = type === "tiledimage";
  if (tiled && !header.tile) throw bad("the header lacks tiles");
  return {
    ...header,
    name: header.name ?? `part ${index + 1}`,
    channels,
    compression,
    dataWindow,
    displayWindow,
    deep: type.startsWith("deep"),
    tile: tiled ? header.tile : undefined,
  };
}

/**
 * The standard attributes of a lens and a sensor, by what they are here. The effective focal length goes before the
 * nominal one.
 */
function recordLens(header: Pick<PartHeader, "lens">, name: string, [value, other]: number[]): void {
  if (!(value! > 0 && Number.isFinite(value))) return;
  const set = (found: RecordedLens) => (header.lens = { ...header.lens, ...found });
  if (name === "effectiveFocalLength") set({ focalLength: value });
  else if (name === "nominalFocalLength") set({ focalLength: header.lens?.focalLength ?? value });
  else if (name === "tStop") set({ stop: value });
  else if (name === "focus") set({ focusDistance: value });
  else if (name === "sensorOverallDimensions" && other! > 0) set({ sensor: { width: value!, height: other! } });
}

const aspect = (ratio: number) => (ratio > 0 && Number.isFinite(ratio) ? ratio : undefined);

const rate = (numerator: number, denominator: number) => {
  const value = numerator / denominator;
  return value > 0 && value < 1e5 ? value : undefined;
};

function readChannels(bytes: Buffer, bad: (reason: string) => FileError): Channel[] {
  const channels: Channel[] = [];
  let at = 0;
  while (at < bytes.length && bytes[at] !== 0) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 17 > bytes.length || channels.length >= MAX_CHANNELS)
      throw bad("the list of channels is damaged");
    const name = bytes.toString("latin1", at, end);
    const type = TYPES[bytes.readInt32LE(end + 1)];
    if (!type) throw bad(`the channel ${name} has an unknown type`);
    const subsampled = bytes.readInt32LE(end + 9) !== 1 || bytes.readInt32LE(end + 13) !== 1;
    channels.push({ name, type: type[0], bytes: type[1], linear: bytes[end + 5] !== 0, subsampled });
    at = end + 17;
  }
  return channels;
}

const decimal = (bits: number) => (bits >> 4) * 10 + (bits & 15);

/** SMPTE ST 12 time code in its packed form (as for film), as HH:MM:SS:FF. */
export function timeCodeText(bits: number): string {
  const parts = [
    decimal((bits >>> 24) & 0x3f),
    decimal((bits >>> 16) & 0x7f),
    decimal((bits >>> 8) & 0x7f),
    decimal(bits & 0x3f),
  ];
  return parts.map((part) => String(part).padStart(2, "0")).join(":");
}

export function timeCodeBits(text: string): number | null {
  const found = /^(\d\d):(\d\d):(\d\d)[:;](\d\d)$/.exec(text);
  if (!found) return null;
  return found.slice(1).reduce((bits, part) => (bits << 8) | (Number(part[0]) << 4) | Number(part[1]), 0) >>> 0;
}
