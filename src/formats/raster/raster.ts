import sharp from "sharp";
import { quantise, type RawImage, sizeProblem } from "../../core/image/image";
import { FileError } from "../error";

/** PNG, TIFF and JPEG through sharp, code values untouched: no profile applied, no gamma, no scaling of depth. */
const OPTIONS = { ignoreIcc: true, limitInputPixels: 2 ** 26, sequentialRead: true } as const;

const plain = (message: string) => message.split("\n")[0]!.replace(/^Input (buffer|file)( |: )?/i, "").trim() || "it is damaged";

export interface RasterInfo {
  width: number;
  height: number;
  depth: "u8" | "u16" | "float";
  channels: number;
  compression?: string;
}

export async function rasterInfo(file: string, bytes: Buffer): Promise<RasterInfo> {
  try {
    const { width, height, depth, channels, compression } = await sharp(bytes, OPTIONS).metadata();
    const problem = sizeProblem(width, height);
    if (problem) throw new Error(problem);
    const kind = ({ uchar: "u8", ushort: "u16", float: "float" } as Record<string, RasterInfo["depth"]>)[depth];
    if (!kind) throw new Error(`samples of type ${depth} are not read; 8 and 16 bits and float are`);
    return { width, height, depth: kind, channels, compression };
  } catch (error) {
    throw error instanceof FileError ? error : new FileError(file, `cannot be read: ${plain((error as Error).message)}`);
  }
}

export async function readRaster(file: string, bytes: Buffer): Promise<RawImage> {
  const { width, height, depth } = await rasterInfo(file, bytes);
  try {
    const outDepth = depth === "u8" ? "uchar" : depth === "u16" ? "ushort" : "float";
    const image = sharp(bytes, { ...OPTIONS, failOn: "truncated" });
    const { data, info } = await (depth === "u8" ? image : image.toColourspace(depth === "u16" ? "rgb16" : "scrgb")).raw({ depth: outDepth }).toBuffer({ resolveWithObject: true });
    const samples =
      depth === "u8" ? data : depth === "u16" ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : new Float32Array(data.buffer, data.byteOffset, data.length / 4);
    return { width, height, pixels: toRgba(samples, info.channels, width * height, depth) };
  } catch (error) {
    throw new FileError(file, `cannot be read: ${plain((error as Error).message)}`);
  }
}

/** Grey, grey-alpha, RGB or RGBA samples to RGBA. */
function toRgba(samples: ArrayLike<number>, channels: number, count: number, depth: RasterInfo["depth"]): RawImage["pixels"] {
  const opaque = depth === "u8" ? 255 : depth === "u16" ? 65535 : 1;
  const data = depth === "u8" ? new Uint8Array(count * 4) : depth === "u16" ? new Uint16Array(count * 4) : new Float32Array(count * 4);
  for (let i = 0; i < count; i++) {
    const from = i * channels;
    const grey = channels < 3;
    for (let c = 0; c < 3; c++) data[i * 4 + c] = samples[from + (grey ? 0 : c)]!;
    data[i * 4 + 3] = channels === 2 || channels === 4 ? samples[from + channels - 1]! : opaque;
  }
  return { depth, data } as RawImage["pixels"];
}

/** Code values 0 to 1 as a PNG (8 or 16 bits) or TIFF (16 bits); alpha is written only where it is not 1. */
export async function writeRaster(width: number, height: number, codes: Float32Array, format: "png" | "tiff", depth: "u8" | "u16", comment?: string): Promise<Buffer> {
  let opaque = true;
  for (let i = 3; i < codes.length && opaque; i += 4) opaque = codes[i] === 1;
  const rgba = quantise(codes, depth);
  const channels = opaque ? 3 : 4;
  let samples = rgba;
  if (opaque) {
    samples = depth === "u8" ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3);
    for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) samples[i * 3 + c] = rgba[i * 4 + c]!;
  }
  let image = sharp(samples, { raw: { width, height, channels } });
  if (depth === "u16") image = image.toColourspace("rgb16");
  if (comment) image = image.withExif({ IFD0: { ImageDescription: comment } });
  return format === "png" ? image.png({ compressionLevel: 3 }).toBuffer() : image.tiff({ compression: "deflate", predictor: "horizontal" }).toBuffer();
}
