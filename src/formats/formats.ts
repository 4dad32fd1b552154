import { Y4M_MAGIC } from "../core/image/y4m-head";
import { type FileHandle, open, stat } from "node:fs/promises";
import { basename } from "node:path";
import { readDpx, writeDpx } from "./dpx/dpx";
import { FileError } from "./error";
import { WRITTEN as EXR_COMPRESSIONS, type WrittenCompression } from "./exr/compression";
import { readExr } from "./exr/read";
import { writeExr } from "./exr/write";
import type { Choice, Decoded, FormatDescription, Picture, WriteOptions } from "./format";
import { containerOf } from "./movies";
import { SIGNATURE as PNG_SIGNATURE } from "./png/chunks";
import { readRaster, writeJpeg, writePng } from "./raster/raster";
import { writeTiff } from "./tiff/tiff";
import { isPacked, readPackedY4m, writePackedY4m } from "./y4m/packed";
import { readY4m, readY4mHeader, y4mFrame, y4mFrameAt, y4mFrames, y4mHead } from "./y4m/y4m";

export interface Format extends FormatDescription {
  /** Whether a file that begins with these bytes (32 at least, if it is as long) is of the format. */
  begins(head: Buffer): boolean;
  decode(file: string, bytes: Buffer, choice: Choice): Decoded | Promise<Decoded>;
  encode(picture: Picture, options: WriteOptions): Buffer | Promise<Buffer>;
}

/** Every format there is: what is read, what is written. */
export const FORMATS: Format[] = [
  {
    name: "OpenEXR",
    alpha: "associated",
    begins: (head) => head.length >= 4 && head.readUInt32LE(0) === 20000630,
    extensions: [".exr"],
    read: ["half", "float"],
    write: ["half", "float"],
    compressions: ["ZIP", ...EXR_COMPRESSIONS.filter((name) => name !== "ZIP")],
    note: "Flat images: scan lines and tiles, one part or several, any layer and depth channel, any data window: what it holds beyond the display window, up to a quarter of the frame on each side, is light that elements bring in; none, RLE, ZIPS, ZIP, PIZ, PXR24, B44, B44A, DWAA and DWAB read; written as RGB, A where there is alpha, Z, and other layers; every field of a header goes on",
    decode: readExr,
    encode: (picture, { depth, compression, ...rest }) =>
      writeExr(picture, {
        ...rest,
        depth: depth === "float" ? "float" : "half",
        compression: compression as WrittenCompression | undefined,
        primaries: primariesOf(rest.tags?.chromaticities),
      }),
  },
  {
    name: "DPX",
    alpha: "unassociated",
    begins: (head) => ["SDPX", "XPDS"].includes(head.toString("latin1", 0, 4)),
    extensions: [".dpx"],
    read: ["8", "10", "12", "16"],
    write: ["10", "8", "12", "16"],
    compressions: [],
    note: "SMPTE 268M: luma, RGB, RGBA and ABGR, both byte orders, packed and filled A or B; written big-endian, filled A, or with another DPX file’s header in its order",
    decode: readDpx,
    encode: writeDpx,
  },
  {
    name: "PNG",
    alpha: "unassociated",
    begins: (head) => head.subarray(0, 8).equals(PNG_SIGNATURE),
    extensions: [".png"],
    read: ["8", "16"],
    write: ["16", "8"],
    compressions: [],
    note: "Grey or RGB, with or without alpha; cICP, gAMA, sRGB and iCCP looked at; cICP written",
    decode: readRaster,
    encode: writePng,
  },
  {
    name: "TIFF",
    alpha: "unassociated",
    begins: (head) => /^(II[*+]\0|MM\0[*+])/.test(head.toString("latin1", 0, 4)),
    extensions: [".tif", ".tiff"],
    read: ["8", "16", "float"],
    write: ["16", "8", "float"],
    compressions: ["deflate", "none"],
    note: "Strips and tiles, the usual compressions; grey or RGB, with or without alpha, associated or not as its tag says; written unassociated",
    decode: readRaster,
    encode: writeTiff,
  },
  {
    name: "JPEG",
    alpha: "none",
    begins: (head) => head.toString("hex", 0, 3) === "ffd8ff",
    extensions: [".jpg", ".jpeg"],
    read: ["8"],
    write: ["8"],
    compressions: [],
    note: "Written at quality 95 in full colour resolution",
    decode: readRaster,
    encode: writeJpeg,
  },
  {
    name: "Y4M",
    alpha: "none",
    begins: (head) => head.toString("latin1", 0, Y4M_MAGIC.length) === Y4M_MAGIC,
    extensions: [".y4m"],
    read: ["8", "10", "12", "16"],
    write: ["10", "8"],
    compressions: ["444", "420", "422"],
    note: "YUV4MPEG2, progressive: 420, 422, 444 and mono; one file holds all frames",
    decode: (file, bytes, choice) => readY4m(file, bytes, choice),
    encode: (picture, options) =>
      Buffer.concat([y4mHead(picture, y4mOptions(options)), y4mFrame(picture, y4mOptions(options))]),
  },
  {
    name: "Packed Y4M",
    alpha: "none",
    begins: isPacked,
    extensions: [".y4m.gz"],
    read: ["8", "10", "12", "16"],
    write: ["10", "8"],
    compressions: ["444", "420", "422"],
    note: "A YUV4MPEG2 file of one frame, packed by gzip: what the browser takes a movie in as where the server has no ffmpeg",
    decode: (file, bytes, choice) => readPackedY4m(file, bytes, choice),
    encode: (picture, options) => writePackedY4m(picture, y4mOptions(options)),
  },
];

/** What of the general options a Y4M file takes; its compression names the chroma. */
export const y4mOptions = ({ depth, compression = "444", framesPerSecond, pixelAspect, tags }: WriteOptions) => ({
  chroma: compression as "444",
  depth: depth === "8" ? ("8" as const) : ("10" as const),
  framesPerSecond,
  pixelAspect,
  matrix: tags?.cicp?.primaries === 9 ? ("bt2020" as const) : undefined,
});

const primariesOf = (xy?: number[]) =>
  (xy && xy.length === 8
    ? ({ red: [xy[0]!, xy[1]!], green: [xy[2]!, xy[3]!], blue: [xy[4]!, xy[5]!], white: [xy[6]!, xy[7]!] } as const)
    : undefined) as Parameters<typeof writeExr>[1]["primaries"];

export const EXTENSIONS = FORMATS.flatMap(({ extensions }) => extensions);
export const formatOf = (file: string) =>
  FORMATS.find(({ extensions }) => extensions.some((extension) => file.toLowerCase().endsWith(extension)));

/** A format as it is told, movies included. */
export const describedFormat = (file: string): FormatDescription | undefined => formatOf(file) ?? containerOf(file);

/** Whether a file of this name holds all frames: Y4M, and movies. */
export const holdsAllFrames = (file: string): boolean =>
  formatOf(file)?.name === "Y4M" || containerOf(file) !== undefined;

/** Files above this are refused before they are read; movies are read a frame at a time. */
export const MAX_FILE = 1.5 * 2 ** 30;

/**
 * The format a file's name says, if its first bytes say so too. Throws FileError for what is not read, or is something
 * else.
 */
function formatFor(file: string, head: Buffer): Format {
  const name = basename(file);
  const format = formatOf(file);
  if (!format) throw new FileError(name, `is of a kind that is not read; ${EXTENSIONS.join(", ")} are`);
  if (!head.length) throw new FileError(name, "is empty");
  if (format.begins(head)) return format;
  const other = FORMATS.find(({ begins }) => begins(head));
  const article = /^[AEIO]/.test(format.name) ? "an" : "a";
  throw new FileError(
    name,
    `is not ${article} ${format.name} file${other ? `; its bytes are those of ${other.name}` : ""}`,
  );
}

export async function readImage(file: string, bytes: Buffer, choice: Choice = {}): Promise<Decoded> {
  return formatFor(file, bytes).decode(basename(file), bytes, choice);
}

const HEAD_BYTES = 32;

/**
 * Reads a picture from an ordinary file; what it is is looked at before the rest is read.
 * Throws FileError for anything else (a folder, a device, a pipe), and for what cannot be read.
 */
export async function loadImage(path: string, choice: Choice = {}): Promise<Decoded> {
  try {
    const found = await stat(path);
    if (!found.isFile()) throw new FileError(path, "is no ordinary file");
    const file = await open(path);
    try {
      const head = Buffer.alloc(Math.min(HEAD_BYTES, found.size));
      await file.read(head, 0, head.length, 0);
      const format = formatFor(path, head);
      if (format.name === "Y4M") return await loadY4m(file, basename(path), found.size, choice);
      if (found.size > MAX_FILE) throw new FileError(path, "is larger than 1.5 GiB");
      return await format.decode(basename(path), await readAll(file, found.size, path), choice);
    } finally {
      await file.close();
    }
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (error instanceof FileError || !code) throw error;
    throw new FileError(path, code === "ENOENT" ? "there is no such file" : `cannot be opened (${code})`);
  }
}

/** The bytes of a file as long as it was found to be. */
async function readAll(file: FileHandle, size: number, path: string): Promise<Buffer> {
  const bytes = Buffer.allocUnsafe(size);
  for (let at = 0; at < size;) {
    const { bytesRead } = await file.read(bytes, at, size - at, at);
    if (!bytesRead) throw new FileError(path, "became shorter while it was read");
    at += bytesRead;
  }
  return bytes;
}

const MAX_HEAD_LENGTH = 1024;

/** One frame of a file that may be too large to hold: its first line, and that frame. */
async function loadY4m(file: FileHandle, name: string, size: number, choice: Choice): Promise<Decoded> {
  const { frame = 0 } = choice;
  const read = async (at: number, count: number) => {
    const bytes = Buffer.alloc(Math.max(0, Math.min(count, size - at)));
    await file.read(bytes, 0, bytes.length, at);
    return bytes;
  };
  const head = await read(0, MAX_HEAD_LENGTH);
  const header = readY4mHeader(name, head);
  const frames = y4mFrames(header, size);
  if (frame >= frames) throw new FileError(name, `has ${frames} frames; frame ${frame + 1} is asked for`);
  const at = y4mFrameAt(header, frame);
  const own = await read(at, header.frameBytes + MAX_HEAD_LENGTH);
  return readY4m(name, Buffer.concat([head.subarray(0, header.headBytes), own]), { ...choice, frame: 0 }, frames);
}
