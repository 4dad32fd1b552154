import { promisify } from "node:util";
import { inflate } from "node:zlib";
import type { Channel, Compression } from "../header";
import { decodeB44 } from "./b44";
import { expandRuns, packRuns } from "./bytes";
import { decodeDwa } from "./dwa/decode";
import { encodeDwa } from "./dwa/encode";
import { decodePiz, encodePiz } from "./piz";
import { deflatedLines, type Lines, linesOf, type Rows } from "../lines";
import { decodePxr24 } from "./pxr24";

const plain = (bytes: Buffer): Lines => ({ bytes, isPredicted: false });
const predicted = (bytes: Buffer): Lines => ({ bytes, isPredicted: true });

// Inflating leaves this thread, so that chunks are unpacked side by side while their samples are made.
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

export const WRITTEN = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "DWAA"] as const satisfies Compression[];
export type WrittenCompression = (typeof WRITTEN)[number];

/** Rows to a chunk; what does not shrink is stored as it is, which readers tell by its size. */
export function pack(compression: WrittenCompression, rows: Rows, channels: Channel[]): Buffer {
  if (compression === "none") return linesOf(rows, false);
  if (compression === "ZIP" || compression === "ZIPS") return deflatedLines(rows) ?? linesOf(rows, false);
  const bytes = linesOf(rows, compression === "RLE");
  const packed = packers[compression](bytes, channels, rows.width, rows.end - rows.top);
  return packed.length < bytes.length ? packed : linesOf(rows, false);
}

const packers: Record<
  "RLE" | "PIZ" | "DWAA",
  (bytes: Buffer, channels: Channel[], width: number, lines: number) => Buffer
> = { RLE: packRuns, PIZ: encodePiz, DWAA: encodeDwa };
