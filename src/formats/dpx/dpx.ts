import { isOpaque, type Pixels, quantise, sizeProblem } from "../../core/image/image";
import { FileError } from "../error";
import { timeCodeBits, timeCodeText } from "../exr/header";
import type { Decoded, DpxHeader, Picture, WriteOptions } from "../format";
import {
  AT,
  DESCRIPTORS,
  ELEMENT,
  GENERIC_BYTES,
  HEADER_BYTES,
  INDUSTRY_BYTES,
  MAGIC,
  PACKINGS,
  TEXT_FIELDS,
  UNDEFINED,
} from "./layout";
import { lineBytes, readLine, type SampleLayout, writeLine } from "./words";

const text = (bytes: Buffer, at: number, length: number) => {
  const raw = bytes.subarray(at, at + length);
  const end = raw.indexOf(0);
  const value = raw.toString("latin1", 0, end < 0 ? length : end).trim();
  return /^[\x20-\x7e]*$/.test(value) ? value : "";
};

/** Reads a DPX picture (SMPTE 268M): one element of 8, 10, 12 or 16 bits, either byte order, not run-length coded. */
export function readDpx(file: string, bytes: Buffer): Decoded {
  const bad = (reason: string) => new FileError(file, reason);
  if (bytes.length < 4) throw bad("is not a DPX file");
  const bigEndian = bytes.readUInt32BE(0) === MAGIC;
  if (!bigEndian && bytes.readUInt32LE(0) !== MAGIC) throw bad("is not a DPX file");
  if (bytes.length < HEADER_BYTES) throw bad(`the file ends inside its header, at byte ${bytes.length}`);
  const u32 = (at: number) => (bigEndian ? bytes.readUInt32BE(at) : bytes.readUInt32LE(at));
  const u16 = (at: number) => (bigEndian ? bytes.readUInt16BE(at) : bytes.readUInt16LE(at));
  const f32 = (at: number) => (bigEndian ? bytes.readFloatBE(at) : bytes.readFloatLE(at));
  const [width, height] = [u32(AT.width), u32(AT.height)];
  const problem = sizeProblem(width, height);
  if (problem) throw bad(problem);
  const at = (field: number) => AT.element + field;
  const samples = DESCRIPTORS[bytes[at(ELEMENT.descriptor)]!];
  if (!samples) throw bad(`holds samples of kind ${bytes[at(ELEMENT.descriptor)]}; luma, RGB, RGBA and ABGR are read`);
  if (u16(AT.elements) !== 1) throw bad(`has ${u16(AT.elements)} image elements; files with one are read`);
  if (u16(at(ELEMENT.coding)) === 1) throw bad("is run-length coded; plain samples are read");
  const bits = bytes[at(ELEMENT.bits)]!;
  const packing = PACKINGS[u16(at(ELEMENT.packing))];
  if (!isBits(bits) || !packing)
    throw bad(`has samples of ${bits} bits in packing ${u16(at(ELEMENT.packing))}; 8, 10, 12 and 16 bits are read`);
  const layout: SampleLayout = { bits, packing, bigEndian };
  const perLine = lineBytes(width * samples.length, layout);
  const padding = u32(at(ELEMENT.linePadding));
  const stride = perLine + (padding === UNDEFINED ? 0 : padding);
  const elementOffset = u32(at(ELEMENT.dataOffset));
  const start = elementOffset === UNDEFINED || elementOffset < HEADER_BYTES - 384 ? u32(AT.imageOffset) : elementOffset;
  if (start + stride * (height - 1) + perLine > bytes.length)
    throw bad(`the file ends at byte ${bytes.length}; its picture needs ${start + stride * height}; it is cut off`);
  const { isColumns, linesTurned, pixelsTurned } = orientationOf(u16(AT.orientation));
  const [wide, high] = isColumns ? [height, width] : [width, height];
  const data = bits === 8 ? new Uint8Array(width * height * 4) : new Uint16Array(width * height * 4);
  const line = new Uint16Array(width * samples.length);
  const order = [..."RGBA"].map((channel) => (samples === "Y" && channel !== "A" ? 0 : samples.indexOf(channel)));
  const top = 2 ** bits - 1;
  for (let l = 0; l < height; l++) {
    readLine(bytes, start + stride * l, line.length, layout, line);
    const along = linesTurned ? height - 1 - l : l;
    for (let p = 0; p < width; p++) {
      const column = pixelsTurned ? width - 1 - p : p;
      const to = (isColumns ? column * wide + along : along * wide + column) * 4;
      const from = p * samples.length;
      for (let c = 0; c < 4; c++) data[to + c] = order[c]! < 0 ? top : line[from + order[c]!]!;
    }
  }
  const rate = [f32(AT.televisionRate), f32(AT.filmRate)].find((value) => value > 0 && value < 1000);
  const timeBits = u32(AT.timeCode);
  const words = {
    creator: text(bytes, AT.creator, 100),
    project: text(bytes, AT.project, 200),
    recipe: userText(bytes),
  };
  const depth = String(bits) as "10";
  const [aspectWidth, aspectHeight] = [u32(AT.pixelAspect), u32(AT.pixelAspect + 4)];
  const isSaid = [aspectWidth, aspectHeight].every((value) => value > 0 && value !== UNDEFINED);
  return {
    width: wide,
    height: high,
    pixels: { depth, data } as Pixels,
    ...(samples.includes("A") ? { alpha: "unassociated" as const } : {}),
    info: {
      width: wide,
      height: high,
      depth,
      channels: samples === "Y" ? ["Y"] : [...samples],
      compression: bits === 8 || bits === 16 ? undefined : packing,
      byteOrder: bigEndian ? "big" : "little",
      framesPerSecond: rate,
      timeCode: timeBits === UNDEFINED || timeBits === 0 ? undefined : timeCodeText(timeBits),
      ...(isSaid ? { pixelAspect: aspectWidth / aspectHeight } : {}),
      dpxHeader: headerIn(bytes, u32(AT.imageOffset), bigEndian),
      tags: { dpx: { transfer: bytes[at(ELEMENT.transfer)]!, colorimetric: bytes[at(ELEMENT.colorimetric)]! } },
      text: Object.fromEntries(Object.entries(words).filter(([, value]) => value)),
    },
  };
}

/** User data longer than this stays behind, bytes. */
const MAX_USER_BYTES = 2 ** 20;

/** The header and the user data before the picture, as they stand. */
function headerIn(bytes: Buffer, start: number, bigEndian: boolean): DpxHeader {
  const end = start > HEADER_BYTES && start <= HEADER_BYTES + MAX_USER_BYTES ? start : HEADER_BYTES;
  return { bytes: Buffer.from(bytes.subarray(0, end)), byteOrder: bigEndian ? "big" : "little" };
}

/**
 * How lines lie (SMPTE 268M, image orientation): 0 to 3 rows, of which 1 turns the pixels' order, 2 the lines'; 4 to 7
 * columns, of which 1 turns the lines' order, 2 the pixels'. Anything else says nothing.
 */
function orientationOf(code: number): { isColumns: boolean; linesTurned: boolean; pixelsTurned: boolean } {
  if (code > 7) return { isColumns: false, linesTurned: false, pixelsTurned: false };
  const [one, two] = [(code & 1) > 0, (code & 2) > 0];
  const isColumns = code >= 4;
  return { isColumns, linesTurned: isColumns ? one : two, pixelsTurned: isColumns ? two : one };
}

const isBits = (bits: number): bits is SampleLayout["bits"] => [8, 10, 12, 16].includes(bits);
const MAX_USER_TEXT_LENGTH = 4096;
const userText = (bytes: Buffer) =>
  text(bytes, AT.user, 32).startsWith("Pale Halo")
    ? text(bytes, AT.user + 32, Math.min(MAX_USER_TEXT_LENGTH, Math.max(0, bytes.length - AT.user - 32)))
    : "";

/** Packing as it is usually written: 10 and 12 bits filled by method A, the rest tight. */
const DEFAULT_PACKING = "filled A";

/** What is none of the characteristics that the standard has a code for. */
const USER_DEFINED = { transfer: 0, colorimetric: 0 };

const isNear = (a: number, b: number) => Math.abs(a - b) < 1e-4 * Math.abs(b);

export interface DpxOptions extends WriteOptions {
  byteOrder?: "big" | "little";
  packing?: SampleLayout["packing"];
}

/** User data that this application wrote: the recipe's hash. */
const OWN_USER = "Pale Halo";
const USER_ID_BYTES = 32;
const ownUserData = (recipe: string | undefined) =>
  recipe
    ? Buffer.concat([Buffer.from(OWN_USER.padEnd(USER_ID_BYTES, "\0"), "latin1"), Buffer.from(`${recipe}\0`, "latin1")])
    : Buffer.alloc(0);

/** The user data that goes into a file: somebody else's goes on as it was, and the recipe's hash has no room beside it. */
function userDataFor({ dpxHeader, text = {} }: DpxOptions): Buffer {
  const carried = dpxHeader?.bytes.subarray(HEADER_BYTES) ?? Buffer.alloc(0);
  const isOthers =
    carried.length > USER_ID_BYTES && !carried.toString("latin1", 0, OWN_USER.length).startsWith(OWN_USER);
  return isOthers ? carried : ownUserData(text.haloRecipe);
}

/** A header that says nothing: all ones, as the standard asks, and no characters. */
function emptyHeader(): Buffer {
  const header = Buffer.alloc(HEADER_BYTES, 0xff);
  for (const [at, length] of TEXT_FIELDS) header.fill(0, at, at + length);
  return header;
}

/** A ratio as two whole numbers, to a ten thousandth. */
function wholeRatio(ratio: number): [number, number] {
  const unit = 10_000;
  const above = Math.round(ratio * unit);
  const divisor = (a: number, b: number): number => (b ? divisor(b, a % b) : a);
  const common = divisor(above, unit);
  return [above / common, unit / common];
}

/**
 * A DPX file of RGB, or RGBA where any pixel is not opaque; code values 0 to 1 are rounded to the depth. The header of
 * another DPX file goes on in all that is not of its pixels.
 */
export function writeDpx({ width, height, data }: Picture, options: DpxOptions): Buffer {
  const { depth, framesPerSecond, timeCode, text: words = {}, tags = {}, dpxHeader, pixelAspect } = options;
  const byteOrder = options.byteOrder ?? dpxHeader?.byteOrder ?? "big";
  const isCarried = dpxHeader?.byteOrder === byteOrder;
  const { transfer, colorimetric } = tags.dpx ?? USER_DEFINED;
  const bits = Number(depth);
  if (!isBits(bits)) throw new RangeError(`DPX is written with 8, 10, 12 or 16 bits, not ${depth}`);
  const bigEndian = byteOrder === "big";
  const layout: SampleLayout = {
    bits,
    packing: bits === 10 || bits === 12 ? (options.packing ?? DEFAULT_PACKING) : "packed",
    bigEndian,
  };
  const channels = isOpaque(data) ? 3 : 4;
  const perLine = lineBytes(width * channels, layout);
  const user = isCarried ? userDataFor(options) : ownUserData(words.haloRecipe);
  const start = Math.ceil((HEADER_BYTES + user.length) / 16) * 16;
  const out = Buffer.alloc(start + perLine * height);
  (isCarried ? dpxHeader.bytes.subarray(0, HEADER_BYTES) : emptyHeader()).copy(out);
  const u32 = (value: number, at: number) =>
    bigEndian ? out.writeUInt32BE(value >>> 0, at) : out.writeUInt32LE(value >>> 0, at);
  const u16 = (value: number, at: number) => (bigEndian ? out.writeUInt16BE(value, at) : out.writeUInt16LE(value, at));
  const f32 = (value: number, at: number) => (bigEndian ? out.writeFloatBE(value, at) : out.writeFloatLE(value, at));
  const f32In = (at: number) => (bigEndian ? out.readFloatBE(at) : out.readFloatLE(at));
  const u32In = (at: number) => (bigEndian ? out.readUInt32BE(at) : out.readUInt32LE(at));
  const ascii = (value: string, at: number, length: number) =>
    out.fill(0, at, at + length).write(value.slice(0, length - 1), at, "latin1");
  u32(MAGIC, 0);
  u32(start, AT.imageOffset);
  ascii("V2.0", AT.version, 8);
  u32(out.length, AT.fileSize);
  u32(GENERIC_BYTES, 24);
  u32(INDUSTRY_BYTES, 28);
  u32(user.length, 32);
  ascii(words.Software ?? "Pale Halo", AT.creator, 100);
  if (!isCarried) ascii(words.project ?? "", AT.project, 200);
  u16(0, AT.orientation);
  u16(1, AT.elements);
  u32(width, AT.width);
  u32(height, AT.height);
  const element = (field: number) => AT.element + field;
  u32(0, element(ELEMENT.sign));
  u32(0, element(ELEMENT.lowData));
  u32(UNDEFINED, element(ELEMENT.lowQuantity));
  u32(2 ** bits - 1, element(ELEMENT.highData));
  u32(UNDEFINED, element(ELEMENT.highQuantity));
  out[element(ELEMENT.descriptor)] = channels === 3 ? 50 : 51;
  out[element(ELEMENT.transfer)] = transfer;
  out[element(ELEMENT.colorimetric)] = colorimetric;
  out[element(ELEMENT.bits)] = bits;
  u16(layout.packing === "packed" ? 0 : PACKINGS.indexOf(layout.packing), element(ELEMENT.packing));
  u16(0, element(ELEMENT.coding));
  u32(start, element(ELEMENT.dataOffset));
  u32(0, element(ELEMENT.linePadding));
  u32(0, element(ELEMENT.imagePadding));
  if (pixelAspect && !(isCarried && isNear(u32In(AT.pixelAspect) / u32In(AT.pixelAspect + 4), pixelAspect)))
    wholeRatio(pixelAspect).forEach((value, i) => u32(value, AT.pixelAspect + 4 * i));
  if (framesPerSecond)
    for (const at of [AT.filmRate, AT.televisionRate])
      if (!isNear(f32In(at), framesPerSecond)) f32(framesPerSecond, at);
  const timeBits = timeCode === undefined ? null : timeCodeBits(timeCode);
  // Bits of a code that is carried say more than its numbers.
  if (timeBits !== null && !(isCarried && timeCodeText(u32In(AT.timeCode)) === timeCode)) u32(timeBits, AT.timeCode);
  user.copy(out, HEADER_BYTES);
  const codes = quantise(data, depth as "10");
  const line = new Uint16Array(width * channels);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) line[x * channels + c] = codes[(y * width + x) * 4 + c]!;
    writeLine(out, start + y * perLine, line.length, layout, line);
  }
  return out;
}
