import type { SharpConstructor } from "sharp";
import { type Alpha, isOpaque, type Pixels, quantise, sizeProblem, topOf } from "../../core/image/image";
import { FileError } from "../error";
import type { Decoded, ImageInfo, Picture, WriteOptions } from "../format";
import { NOTE_FIELDS, notesIn, textOf } from "../notes";
import { addPngTags, readPngTags } from "../png/chunks";
import { readTiffTags, unreadReason } from "../tiff/tags";
import { addJpegDensity, aspectOf, densityOf, jpegDensity } from "./aspect";
import { iccDescription } from "./icc";

/** PNG, TIFF and JPEG through sharp, code values untouched: no profile applied, no gamma, no scaling of depth. */
const OPTIONS = { ignoreIcc: true, limitInputPixels: 2 ** 26, sequentialRead: true } as const;

let loaded: Promise<SharpConstructor> | null = null;

/** The library, loaded where it is first needed: most commands of a shell need none of it. */
const library = () =>
  (loaded ??= import("sharp").then(({ default: sharp }) => {
    // Of all that the library can load, these are meant: a file that is something else is not handed to it.
    sharp.block({ operation: ["VipsForeignLoad"] });
    sharp.unblock({ operation: ["VipsForeignLoadPng", "VipsForeignLoadJpeg", "VipsForeignLoadTiff"] });
    return sharp;
  }));

const plain = (message: string) =>
  message
    .split("\n")[0]!
    .replace(/^Input (buffer|file)( |: )?/i, "")
    .trim() || "it is damaged";

type RasterDepth = "8" | "16" | "float";
const DEPTHS: Record<
  string,
  { depth: RasterDepth; raw: "uchar" | "ushort" | "float"; space: "rgb16" | "scrgb" | null }
> = {
  uchar: { depth: "8", raw: "uchar", space: null },
  ushort: { depth: "16", raw: "ushort", space: "rgb16" },
  float: { depth: "float", raw: "float", space: "scrgb" },
};
const CHANNELS = [[], ["Y"], ["Y", "A"], ["R", "G", "B"], ["R", "G", "B", "A"]];

/** Scans of a JPEG that are decoded: a progressive one has about ten, one made to be slow has thousands. */
const MAX_SCANS = 64;
const START_OF_SCAN = Buffer.of(0xff, 0xda);
const JPEG_MARK = 0xffd8;

/**
 * How many scans a JPEG has: in coded data 0xff is followed by 0 or a restart, so that this pair begins a scan and
 * nothing else.
 */
function scansOf(bytes: Buffer): number {
  let scans = 0;
  for (let at = bytes.indexOf(START_OF_SCAN); at >= 0 && scans <= MAX_SCANS; scans++)
    at = bytes.indexOf(START_OF_SCAN, at + 2);
  return scans;
}

/** Throws FileError for what is damaged, too large, made to be slow, or of samples that are not read. */
export async function readRaster(file: string, bytes: Buffer): Promise<Decoded> {
  try {
    if (bytes.length > 2 && bytes.readUInt16BE(0) === JPEG_MARK && scansOf(bytes) > MAX_SCANS)
      throw new Error(`has more than ${MAX_SCANS} scans`);
    const tiff = readTiffTags(bytes);
    const sharp = await library();
    const unread = tiff && unreadReason(tiff);
    if (unread) throw new Error(unread);
    const {
      depth: kind,
      channels,
      compression,
      icc,
      format,
      space,
      width: storedWidth,
      height: storedHeight,
    } = await sharp(bytes, OPTIONS).metadata();
    const problem = sizeProblem(storedWidth, storedHeight);
    if (problem) throw new Error(problem);
    const found = DEPTHS[kind];
    if (!found) throw new Error(`samples of type ${kind} are not read; 8 and 16 bits and float are`);
    if (space === "cmyk" || !CHANNELS[channels]?.length)
      throw new Error(`has ${channels} channels of ${space}; grey and RGB are read`);
    // Turned as the file says the camera was held. Grey floats are taken as they are: a colour space would scale them.
    const image = sharp(bytes, { ...OPTIONS, sequentialRead: false, failOn: "truncated" }).autoOrient();
    const isAsItIs = found.space === null || (found.depth === "float" && space === "b-w");
    const { data, info } = await (isAsItIs ? image : image.toColourspace(found.space!))
      .raw({ depth: found.raw })
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    const hasAlpha = channels === 2 || channels === 4;
    // The library divides colour by alpha where a TIFF says that it was multiplied.
    const alpha: Alpha | undefined = hasAlpha && (!tiff || tiff.hasAlpha) ? "unassociated" : undefined;
    const samples =
      found.depth === "8"
        ? data
        : found.depth === "16"
          ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
          : new Float32Array(data.buffer, data.byteOffset, data.length / 4);
    const png = format === "png" ? readPngTags(bytes) : undefined;
    const density = png?.density ?? tiff?.density ?? (format === "jpeg" ? jpegDensity(bytes) : undefined);
    const stored = aspectOf(density);
    const isTurned = width !== storedWidth && width === storedHeight;
    const { tags = {}, text = {} } = png ?? {};
    const about: ImageInfo = {
      width,
      height,
      depth: found.depth,
      channels: CHANNELS[channels]!,
      compression,
      tags: { ...tags, ...(icc ? { icc: iccDescription(icc) } : {}) },
      text,
      notes: tiff ? tiff.notes : notesIn(text, NOTE_FIELDS.PNG),
      ...(stored ? { pixelAspect: isTurned ? Number((1 / stored).toFixed(4)) : stored } : {}),
    };
    const pixels = toRgba(samples, info.channels, width * height, found.depth, alpha !== undefined);
    return { width, height, pixels, ...(alpha ? { alpha } : {}), info: about };
  } catch (error) {
    throw new FileError(file, `cannot be read: ${plain((error as Error).message)}`);
  }
}

/** Grey, grey-alpha, RGB or RGBA samples to RGBA; a further channel that is no alpha is left. */
function toRgba(
  samples: ArrayLike<number>,
  channels: number,
  count: number,
  depth: RasterDepth,
  hasAlpha: boolean,
): Pixels {
  const data =
    depth === "8"
      ? new Uint8Array(count * 4)
      : depth === "16"
        ? new Uint16Array(count * 4)
        : new Float32Array(count * 4);
  const opaque = topOf(depth);
  const [g, b] = channels < 3 ? [0, 0] : [1, 2];
  const alpha = hasAlpha ? channels - 1 : -1;
  for (let i = 0, from = 0, to = 0; i < count; i++, from += channels, to += 4) {
    data[to] = samples[from]!;
    data[to + 1] = samples[from + g]!;
    data[to + 2] = samples[from + b]!;
    data[to + 3] = alpha < 0 ? opaque : samples[from + alpha]!;
  }
  return { depth, data } as Pixels;
}

function samplesOf({ width, height, data }: Picture, depth: "8" | "16", channels: 3 | 4): Uint8Array | Uint16Array {
  const rgba = quantise(data, depth);
  if (channels === 4) return rgba;
  const samples = depth === "8" ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3);
  for (let from = 0, to = 0; from < rgba.length; from += 4) {
    samples[to++] = rgba[from]!;
    samples[to++] = rgba[from + 1]!;
    samples[to++] = rgba[from + 2]!;
  }
  return samples;
}

/** Code values 0 to 1 as a PNG of 8 or 16 bits; alpha is written only where it is not 1. */
export async function writePng(picture: Picture, options: WriteOptions): Promise<Buffer> {
  const { depth, tags = {}, text = {}, notes = {}, pixelAspect = 1 } = options;
  if (depth !== "8" && depth !== "16") throw new RangeError(`PNG is written with 8 or 16 bits, not ${depth}`);
  const channels = isOpaque(picture.data) ? 3 : 4;
  const sharp = await library();
  const image = sharp(samplesOf(picture, depth, channels), {
    raw: { width: picture.width, height: picture.height, channels },
  });
  return addPngTags(
    await (depth === "16" ? image.toColourspace("rgb16") : image).png({ compressionLevel: 3 }).toBuffer(),
    {
      tags,
      text: { ...text, ...textOf(notes, NOTE_FIELDS.PNG) },
      ...(pixelAspect === 1 ? {} : { density: densityOf(pixelAspect) }),
    },
  );
}

/** High enough that a second look finds no blocks. */
const JPEG_QUALITY = 95;

/** Code values 0 to 1 as a JPEG of 8 bits, full colour resolution; alpha is left out. */
export async function writeJpeg(picture: Picture, { depth, pixelAspect = 1 }: WriteOptions): Promise<Buffer> {
  if (depth !== "8") throw new RangeError(`JPEG is written with 8 bits, not ${depth}`);
  const sharp = await library();
  const raw = { width: picture.width, height: picture.height, channels: 3 } as const;
  const bytes = await sharp(samplesOf(picture, "8", 3), { raw })
    .jpeg({ quality: JPEG_QUALITY, chromaSubsampling: "4:4:4" })
    .toBuffer();
  return addJpegDensity(bytes, pixelAspect);
}
