import { promisify } from "node:util";
import { deflate, inflate } from "node:zlib";
import type { Channel, Compression } from "../header";
import { decodeB44 } from "./b44";
import { expandRuns, packRuns, predict, unpredict } from "./bytes";
import { decodeDwa } from "./dwa/decode";
import { encodeDwa } from "./dwa/encode";
import { decodePiz, encodePiz } from "./piz";
import { decodePxr24 } from "./pxr24";

/** Fast, and within a few percent of the smallest on pictures. */
const ZIP_LEVEL = 4;

/**
 * A chunk unpacked: lines of channels one after another. `isSplit`: even bytes first, then the odd ones, as they were
 * packed; who reads samples from them need not join them first.
 */
export interface Lines {
  bytes: Buffer;
  isSplit: boolean;
}

const joined = (bytes: Buffer): Lines => ({ bytes, isSplit: false });
const split = (bytes: Buffer): Lines => ({ bytes: unpredict(bytes), isSplit: true });

// (De)flating leaves this thread, so that chunks are (un)packed side by side while their samples, or the next frame's,
// are made.
const deflated = promisify(deflate) as (
  bytes: Buffer,
  options: { level: number; chunkSize: number },
) => Promise<Buffer>;
const inflated = promisify(inflate) as (
  bytes: Buffer,
  options: { maxOutputLength: number; chunkSize: number },
) => Promise<Buffer>;

/** Room for a whole result, bytes: it is given at once, and nothing is put together. The library asks for 64. */
const roomFor = (bytes: number) => Math.max(64, bytes);

/** Unpacks a chunk. What did not shrink was stored as it is. Throws plain messages. */
export async function unpack(
  compression: Compression,
  source: Buffer,
  channels: Channel[],
  width: number,
  lines: number,
): Promise<Lines> {
  const size = lines * width * channels.reduce((sum, { bytes }) => sum + bytes, 0);
  if (compression === "none" || source.length === size) {
    if (source.length !== size) throw new Error("it is cut off");
    return joined(source);
  }
  const inflateTo = async (most: number) => {
    const bytes = await inflated(source, { maxOutputLength: most, chunkSize: roomFor(most) });
    if (bytes.length !== most) throw new Error("it is shorter than its lines");
    return bytes;
  };
  switch (compression) {
    case "RLE":
      return split(expandRuns(source, size));
    case "ZIPS":
    case "ZIP":
      return split(await inflateTo(size));
    case "PIZ":
      return joined(decodePiz(source, channels, width, lines));
    case "PXR24":
      return joined(
        decodePxr24(
          await inflateTo(
            lines * width * channels.reduce((sum, { type, bytes }) => sum + (type === "float" ? 3 : bytes), 0),
          ),
          channels,
          width,
          lines,
          size,
        ),
      );
    case "B44":
    case "B44A":
      return joined(decodeB44(source, channels, width, lines, size));
    case "DWAA":
    case "DWAB":
      return joined(decodeDwa(source, channels, width, lines, size));
  }
}

/** A chunk that was predicted, deflated. */
export const deflatedChunk = (predicted: Buffer): Promise<Buffer> =>
  deflated(predicted, { level: ZIP_LEVEL, chunkSize: roomFor(predicted.length) });

export const WRITTEN = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "DWAA"] as const satisfies Compression[];
export type WrittenCompression = (typeof WRITTEN)[number];

/**
 * Lines of channels one after another to a chunk; what does not shrink is stored as it is, which readers tell by its
 * size.
 */
export async function pack(
  compression: WrittenCompression,
  raw: Buffer,
  channels: Channel[],
  width: number,
  lines: number,
): Promise<Buffer> {
  const packed = await packers[compression](raw, channels, width, lines);
  return packed.length < raw.length ? packed : raw;
}

const packers: Record<
  WrittenCompression,
  (raw: Buffer, channels: Channel[], width: number, lines: number) => Buffer | Promise<Buffer>
> = {
  none: (raw) => raw,
  RLE: (raw) => packRuns(predict(raw)),
  ZIPS: (raw) => deflatedChunk(predict(raw)),
  ZIP: (raw) => deflatedChunk(predict(raw)),
  PIZ: encodePiz,
  DWAA: encodeDwa,
};
