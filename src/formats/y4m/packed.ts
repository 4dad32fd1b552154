import { promisify } from "node:util";
import { constants, gunzip, gzip } from "node:zlib";
import { FileError } from "../error";
import type { Choice, Decoded, Picture } from "../format";
import { readY4m, y4mFrame, y4mHead, type Y4mOptions } from "./y4m";

/**
 * A frame as a Y4M file of its own, packed by gzip: what a movie's decoder gave, in about half its room. `gunzip` makes
 * the plain file of it.
 */
const unpack = promisify(gunzip);
const pack = promisify(gzip);

/** A frame of 8192 × 8192 px in 16 bits with alpha, bytes: nothing larger is unpacked. */
const MAX_UNPACKED = 512 * 2 ** 20;
const MIB = 2 ** 20;

export const isPacked = (head: Buffer): boolean => head.length > 1 && head[0] === 0x1f && head[1] === 0x8b;

/** Throws FileError for what is damaged, larger unpacked than `largest` bytes, or no Y4M file inside. */
export async function readPackedY4m(
  file: string,
  bytes: Buffer,
  choice: Choice = {},
  largest = MAX_UNPACKED,
): Promise<Decoded> {
  const plain = await unpack(bytes, { maxOutputLength: largest }).catch((error: NodeJS.ErrnoException) => {
    const isTooLarge = error.code === "ERR_BUFFER_TOO_LARGE";
    throw new FileError(
      file,
      isTooLarge ? `is larger than ${largest / MIB} MiB unpacked` : "is damaged: gzip cannot unpack it",
    );
  });
  return readY4m(file, plain, choice);
}

export const writePackedY4m = (picture: Picture, options: Y4mOptions): Promise<Buffer> =>
  pack(Buffer.concat([y4mHead(picture, options), y4mFrame(picture, options)]), { level: constants.Z_BEST_SPEED });
