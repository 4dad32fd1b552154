import { promisify } from "node:util";
import { deflate, inflate } from "node:zlib";
import type { Channel, Compression } from "../header";
import { decodeB44 } from "./b44";
import { expandRuns, packRuns } from "./bytes";
import { decodeDwa } from "./dwa/decode";
import { encodeDwa } from "./dwa/encode";
import { decodePiz, encodePiz } from "./piz";
import { decodePxr24 } from "./pxr24";

/** Fast, and within a few percent of the smallest on pictures. */
const ZIP_LEVEL = 4;

/**
 * A chunk unpacked: lines of channels one after another. `isPredicted`: even bytes first, then the odd ones, each less
 * the one before it, as they were packed.
 */
export interface Lines {
  bytes: Buffer;
  isPredicted: boolean;
}

const plain = (bytes: Buffer): Lines => ({ bytes, isPredicted: false });
const predicted = (bytes: Buffer): Lines => ({ bytes, isPredicted: true });

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
    return plain(source);
  }
  const inflateTo = async (most: number) => {
    const bytes = await inflated(source, { maxOutputLength: most, chunkSize: roomFor(most) });
    if (bytes.length !== most) throw new Error("it is shorter than its lines");
    return bytes;
  };
  switch (compression) {
    case "RLE":
      return predicted(expandRuns(source, size));
    case "ZIPS":
    case "ZIP":
      return predicted(await inflateTo(size));
    case "PIZ":
      return plain(decodePiz(source, channels, width, lines));
    case "PXR24":
      return plain(
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
      return plain(decodeB44(source, channels, width, lines, size));
    case "DWAA":
    case "DWAB":
      return plain(decodeDwa(source, channels, width, lines, size));
  }
}

const deflatedChunk = (bytes: Buffer): Promise<Buffer> =>
  deflated(bytes, { level: ZIP_LEVEL, chunkSize: roomFor(bytes.length) });

export const WRITTEN = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "DWAA"] as const satisfies Compression[];
export type WrittenCompression = (typeof WRITTEN)[number];

/**
 * Lines to a chunk; what does not shrink is stored as it is, which readers tell by its size. `linesOf` gives them
 * predicted or plain, as they are asked for.
 */
export async function pack(
  compression: WrittenCompression,
  linesOf: (isPredicted: boolean) => Buffer,
  channels: Channel[],
  width: number,
  lines: number,
): Promise<Buffer> {
  if (compression === "none") return linesOf(false);
  const bytes = linesOf(compression !== "PIZ" && compression !== "DWAA");
  const packed = await packers[compression](bytes, channels, width, lines);
  return packed.length < bytes.length ? packed : linesOf(false);
}

const packers: Record<
  Exclude<WrittenCompression, "none">,
  (bytes: Buffer, channels: Channel[], width: number, lines: number) => Buffer | Promise<Buffer>
> = {
  RLE: packRuns,
  ZIPS: deflatedChunk,
  ZIP: deflatedChunk,
  PIZ: encodePiz,
  DWAA: encodeDwa,
};
