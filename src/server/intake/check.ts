import { stat } from "node:fs/promises";
import type { Depth } from "../../core/image/image";
import { FileError } from "../../formats/error";
import { formatOf, loadImage } from "../../formats/formats";
import { guessEncoding } from "../footage/encoding";

/** What reading a file whole has shown. */
export interface Checked {
  width: number;
  height: number;
  depth: Depth;
  format: string;
  channels: string[];
  parts?: string[];
  framesPerSecond?: number;
  timeCode?: string;
  /** Frames in the file. */
  frames: number;
  bytes: number;
  encoding: string;
  reason: string;
}

const seen = new Map<string, Checked>();
const SEEN_KEPT = 50_000;

/** Reads a file whole, once for its size and time. Throws FileError, naming the file as `name`. */
export async function check(path: string, name: string): Promise<Checked> {
  const { size, mtimeMs, ino } = await stat(path);
  const key = [ino, size, mtimeMs].join(" ");
  const before = seen.get(key);
  if (before) return before;
  const image = await loadImage(path).catch((error: unknown) => {
    throw error instanceof FileError ? new FileError(name, error.reason) : error;
  });
  const { width, height, depth, channels, parts, framesPerSecond, timeCode, frames = 1 } = image.info;
  const found: Checked = {
    width,
    height,
    depth,
    channels,
    parts: parts?.map((part) => part.name),
    framesPerSecond,
    timeCode,
    frames,
    bytes: size,
    format: formatOf(name)!.name,
    ...guessEncoding(image),
  };
  if (seen.size >= SEEN_KEPT) seen.clear();
  seen.set(key, found);
  return found;
}
