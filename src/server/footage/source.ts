import { basename, extname } from "node:path";
import { statSync } from "node:fs";
import { openSync, readSync, closeSync } from "node:fs";
import { FileError } from "../../formats/error";
import type { Choice, Decoded } from "../../formats/format";
import { between, firstOf, frameUpTo, hasFrame, lastOf, type Ranges } from "../../core/frame/ranges";
import { holdsAllFrames, loadImage } from "../../formats/formats";
import { readY4mHeader, y4mFrames } from "../../formats/y4m/y4m";
import { isMovieName } from "../../core/image/movies";
import { isGlob, patternOfGlob } from "./glob";
import { type Movie, movieFrame, movieOf, openMovie } from "./movies/movie";
import { fileOf, framesOf, isSequence, literally, parsePattern, type Pattern } from "./sequence";

/** A frame's file, which frame of it, and whether it only stands in for one that is black. */
export interface FrameFile {
  path: string;
  choice: Choice;
  black: boolean;
}

/** What stands in for a frame that is missing between the first and the last. */
export type GapPolicy = "hold" | "black" | "refuse";

/** Frames in files, by their numbers: a still, a numbered sequence, or a movie, whose frames count from 1. */
export interface Source {
  pattern: Pattern;
  /** Numbers of the frames that are there. */
  frames: Ranges;
  /** A movie that was opened for this source, and is to be closed again. */
  movie?: Movie;
}

const isY4m = ({ before, after }: Pattern) => extname(after || before).toLowerCase() === ".y4m";
/** One file that holds all frames. */
const holdsAll = ({ before, after }: Pattern) => holdsAllFrames(after || before);

function countY4m(path: string): number {
  if (!statSync(path).isFile()) throw new FileError(basename(path), "is no ordinary file");
  const head = Buffer.alloc(1024);
  const file = openSync(path, "r");
  try {
    const length = readSync(file, head);
    return y4mFrames(readY4mHeader(basename(path), head.subarray(0, length)), statSync(path).size);
  } finally {
    closeSync(file);
  }
}

/**
 * Finds what is there by a pattern or a glob; no frames where nothing is. A file of exactly this name is that file,
 * whatever is in its name. A movie is to be closed again.
 */
export function openSource(name: string): Source {
  if (isMovieName(name) && isFileNamed(name)) {
    const movie = openMovie(name);
    return { pattern: literally(name), frames: between(1, movie.count), movie };
  }
  if (isFileNamed(name)) return sourceFor(literally(name));
  const meant = isGlob(name) ? patternOfGlob(name) : null;
  if (meant && isMovieName(meant.before) && !meant.digits) return openSource(fileOf(meant, 1));
  return sourceFor(meant ?? parsePattern(name));
}

/** Whether anything but a folder has this name; nothing has one that goes through a file. */
function isFileNamed(name: string): boolean {
  try {
    return !(statSync(name, { throwIfNoEntry: false })?.isDirectory() ?? true);
  } catch {
    return false;
  }
}

/** What is there of a pattern; no frames where nothing is. */
export function sourceFor(pattern: Pattern): Source {
  const found = framesOf(pattern);
  if (isSequence(pattern) || !isY4m(pattern) || !found.length) return { pattern, frames: found };
  return { pattern, frames: between(1, countY4m(fileOf(pattern, 1))) };
}

/** The frame's file, and which frame of it. */
export function fileAt(pattern: Pattern, frame: number): { path: string; index: number } {
  return isSequence(pattern)
    ? { path: fileOf(pattern, frame), index: 0 }
    : { path: fileOf(pattern, frame), index: holdsAll(pattern) ? frame - 1 : 0 };
}

/**
 * The frame that is read for `frame` under a policy for gaps: itself, the last one before it, or null for black. Throws
 * where it is refused.
 */
export function standIn({ pattern, frames }: Source, frame: number, gaps: GapPolicy): number | null {
  if (hasFrame(frames, frame)) return frame;
  const inside = frame > firstOf(frames) && frame < lastOf(frames);
  if (!inside || gaps === "refuse")
    throw new FileError(
      basename(fileAt(pattern, frame).path),
      inside ? "is missing; its sequence has a gap here" : "there is no such frame",
    );
  return gaps === "black" ? null : frameUpTo(frames, frame)!;
}

/** Where a frame is read from under a policy for gaps. Throws FileError where it is refused. */
export function placeFor(source: Source, frame: number, choice: Choice = {}, gaps: GapPolicy = "refuse"): FrameFile {
  const number = standIn(source, frame, gaps);
  const { path, index } = fileAt(source.pattern, number ?? firstOf(source.frames));
  return { path, choice: { ...choice, frame: index }, black: number === null };
}

export async function loadPlace({ path, choice, black }: FrameFile): Promise<Decoded> {
  const image = isMovieName(path)
    ? await movieFrame(movieOf(path), (choice.frame ?? 0) + 1, choice)
    : await loadImage(path, choice);
  if (black) blacken(image);
  return image;
}

export async function loadFrame(
  source: Source,
  frame: number,
  choice?: Choice,
  gaps: GapPolicy = "refuse",
): Promise<Decoded> {
  const { movie } = source;
  if (!movie) return loadPlace(placeFor(source, frame, choice, gaps));
  return movieFrame(movie, standIn(source, frame, gaps) ?? frame, choice);
}

function blacken({ pixels, z }: Decoded): void {
  const opaque = pixels.depth === "half" || pixels.depth === "float" ? 1 : 2 ** Number(pixels.depth) - 1;
  pixels.data.fill(0);
  for (let i = 3; i < pixels.data.length; i += 4) pixels.data[i] = opaque;
  z?.fill(0);
}
