import { promisify } from "node:util";
import { deflate, inflateSync } from "node:zlib";
import type { Channel, Compression } from "../header";
import { decodeB44 } from "./b44";
import { expandRuns, packRuns, predict, reconstruct } from "./bytes";
import { decodeDwa } from "./dwa/decode";
import { encodeDwa } from "./dwa/encode";
import { decodePiz, encodePiz } from "./piz";
import { decodePxr24 } from "./pxr24";

/** Fast, and within a few percent of the smallest on pictures. */
const ZIP_LEVEL = 4;

/** A chunk back to lines of channels one after another, `size` bytes. What did not shrink was stored as it is. Throws plain messages. */
export function unpack(
  compression: Compression,
  source: Buffer,
  channels: Channel[],
  width: number,
  lines: number,
): Buffer {
  const size = lines * width * channels.reduce((sum, { bytes }) => sum + bytes, 0);
  if (compression === "none" || source.length === size) {
    if (source.length !== size) throw new Error("it is cut off");
    return source;
  }
  const inflate = (most: number) => {
    const bytes = inflateSync(source, { maxOutputLength: most });
    if (bytes.length !== most) throw new Error("it is shorter than its lines");
    return bytes;
  };
  switch (compression) {
    case "RLE":
      return reconstruct(expandRuns(source, size));
    case "ZIPS":
    case "ZIP":
      return reconstruct(inflate(size));
    case "PIZ":
      return decodePiz(source, channels, width, lines);
    case "PXR24":
      return decodePxr24(
        inflate(lines * width * channels.reduce((sum, { type, bytes }) => sum + (type === "float" ? 3 : bytes), 0)),
        channels,
        width,
        lines,
        size,
      );
    case "B44":
    case "B44A":
      return decodeB44(source, channels, width, lines, size);
    case "DWAA":
    case "DWAB":
      return decodeDwa(source, channels, width, lines, size);
  }
}

export const WRITTEN = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "DWAA"] as const satisfies Compression[];
export type WrittenCompression = (typeof WRITTEN)[number];

/** Lines of channels one after another to a chunk; what does not shrink is stored as it is, which readers tell by its size. */
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

// Deflating leaves this thread, so that chunks are packed side by side while the next frame is computed.
const deflated = promisify(deflate) as (bytes: Buffer, options: { level: number }) => Promise<Buffer>;

const packers: Record<
  WrittenCompression,
  (raw: Buffer, channels: Channel[], width: number, lines: number) => Buffer | Promise<Buffer>
> = {
  none: (raw) => raw,
  RLE: (raw) => packRuns(predict(raw)),
  ZIPS: (raw) => deflated(predict(raw), { level: ZIP_LEVEL }),
  ZIP: (raw) => deflated(predict(raw), { level: ZIP_LEVEL }),
  PIZ: encodePiz,
  DWAA: encodeDwa,
};
