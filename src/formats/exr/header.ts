import { FileError } from "../error";
import { sizeProblem } from "../../core/image/image";

/** OpenEXR file layout, version 2: magic, version, attributes, then the table of chunks. */
const MAGIC = 20000630;
const TILED = 0x200;
const DEEP = 0x800;
const MULTIPART = 0x1000;

export const COMPRESSIONS = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "PXR24", "B44", "B44A", "DWAA", "DWAB"] as const;
export type Compression = (typeof COMPRESSIONS)[number];
/** Lines in a chunk, for the compressions that are read. */
export const CHUNK_LINES: Partial<Record<Compression, number>> = { none: 1, RLE: 1, ZIPS: 1, ZIP: 16, PIZ: 32 };

export interface Channel {
  name: string;
  type: "uint" | "half" | "float";
  bytes: number;
}

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export interface ExrHeader {
  channels: Channel[];
  compression: Compression;
  dataWindow: Box;
  displayWindow: Box;
  /** xy of red, green, blue and white. */
  chromaticities?: number[];
  text: Record<string, string>;
  framesPerSecond?: number;
  /** Where each chunk starts. */
  offsets: number[];
}

const LONGEST_NAME = 255;
const MOST_CHANNELS = 1024;
const TYPES = [["uint", 4], ["half", 2], ["float", 4]] as const;

export function readHeader(file: string, bytes: Buffer): ExrHeader {
  const bad = (reason: string) => new FileError(file, reason);
  let at = 8;
  const need = (count: number) => {
    if (at + count > bytes.length) throw bad(`the file ends inside its header, at byte ${bytes.length}`);
  };
  const name = (): string => {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end - at > LONGEST_NAME) throw bad("the header has a name that does not end");
    const value = bytes.toString("latin1", at, end);
    at = end + 1;
    return value;
  };
  if (bytes.length < 8 || bytes.readInt32LE(0) !== MAGIC) throw bad("is not an OpenEXR file");
  const version = bytes.readInt32LE(4);
  if ((version & 0xff) !== 2) throw bad(`is OpenEXR version ${version & 0xff}; version 2 is read`);
  if (version & MULTIPART) throw bad("has several parts; single-part files are read");
  if (version & DEEP) throw bad("holds deep data; flat images are read");
  if (version & TILED) throw bad("is tiled; scan-line files are read");
  const header: Partial<ExrHeader> & { text: Record<string, string> } = { text: {} };
  for (;;) {
    const attribute = name();
    if (!attribute) break;
    const type = name();
    need(4);
    const size = bytes.readInt32LE(at);
    at += 4;
    if (size < 0) throw bad(`the attribute ${attribute} has a size of ${size}`);
    need(size);
    const end = at + size;
    const box = (): Box => ({ left: bytes.readInt32LE(at), top: bytes.readInt32LE(at + 4), right: bytes.readInt32LE(at + 8), bottom: bytes.readInt32LE(at + 12) });
    if (attribute === "channels" && type === "chlist") header.channels = readChannels(bytes.subarray(at, end), bad);
    else if (attribute === "compression" && size === 1) {
      const compression = COMPRESSIONS[bytes[at]!];
      if (!compression) throw bad(`has an unknown compression (${bytes[at]})`);
      header.compression = compression;
    } else if (attribute === "dataWindow" && size === 16) header.dataWindow = box();
    else if (attribute === "displayWindow" && size === 16) header.displayWindow = box();
    else if (attribute === "chromaticities" && size === 32) header.chromaticities = Array.from({ length: 8 }, (_, i) => bytes.readFloatLE(at + i * 4));
    else if (attribute === "framesPerSecond" && size === 8) header.framesPerSecond = bytes.readInt32LE(at) / bytes.readUInt32LE(at + 4);
    else if (type === "string") header.text[attribute] = bytes.toString("utf8", at, end);
    at = end;
  }
  const { channels, compression, dataWindow, displayWindow } = header;
  if (!channels?.length || !compression || !dataWindow || !displayWindow) {
    const missing = Object.entries({ channels, compression, dataWindow, displayWindow }).filter(([, value]) => !value).map(([key]) => key);
    throw bad(`the header lacks ${missing.join(", ") || "channels"}`);
  }
  for (const [label, { left, top, right, bottom }] of [["data", dataWindow], ["display", displayWindow]] as const) {
    const problem = sizeProblem(right - left + 1, bottom - top + 1);
    if (problem) throw bad(`${label} window: ${problem}`);
  }
  const lines = CHUNK_LINES[compression];
  if (!lines) throw bad(`${compression} compression is not read; none, RLE, ZIPS, ZIP and PIZ are`);
  const chunks = Math.ceil((dataWindow.bottom - dataWindow.top + 1) / lines);
  if (at + chunks * 8 > bytes.length) throw bad(`the file ends inside its table of ${chunks} chunks; it is cut off`);
  const offsets = Array.from({ length: chunks }, (_, i) => Number(bytes.readBigUInt64LE(at + i * 8)));
  offsets.forEach((offset, i) => {
    if (offset + 8 > bytes.length || offset + 8 + Math.max(0, bytes.readInt32LE(offset + 4)) > bytes.length)
      throw bad(`chunk ${i + 1} of ${chunks} lies beyond the end of the file; it is cut off`);
  });
  return { ...header, channels, compression, dataWindow, displayWindow, offsets };
}

function readChannels(bytes: Buffer, bad: (reason: string) => FileError): Channel[] {
  const channels: Channel[] = [];
  let at = 0;
  while (at < bytes.length && bytes[at] !== 0) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 17 > bytes.length || channels.length >= MOST_CHANNELS) throw bad("the list of channels is damaged");
    const name = bytes.toString("latin1", at, end);
    const type = TYPES[bytes.readInt32LE(end + 1)];
    if (!type) throw bad(`the channel ${name} has an unknown type`);
    if (bytes.readInt32LE(end + 9) !== 1 || bytes.readInt32LE(end + 13) !== 1) throw bad(`the channel ${name} is subsampled; full channels are read`);
    channels.push({ name, type: type[0], bytes: type[1] });
    at = end + 17;
  }
  return channels;
}
