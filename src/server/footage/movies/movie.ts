import { LRUCache } from "lru-cache";
import { later, readTimeCode, timeCodeText } from "../../../core/frame/time-code";
import { FileError } from "../../../formats/error";
import { type Choice, type Decoded, TAKEN_AS_ONE } from "../../../formats/format";
import { readY4m } from "../../../formats/y4m/y4m";
import { decode, type Run } from "./decode";
import { type MovieInfo, probeMovie } from "./probe";

/** Frames that are kept after they were read: what a look takes beside a frame lies near it. */
const KEPT_BYTES = 192 * 2 ** 20;
/** A frame so many after the last that was read is reached by reading on, and not by seeking it. */
const READ_ON_FRAMES = 24;
/** A run from which nothing was taken for so long is ended, ms. */
const IDLE_MS = 10_000;

/** A movie whose frames are decoded as they are asked for, from 1 on. */
export interface Movie {
  info: MovieInfo;
  /** Frames it says it has. */
  count: number;
  /**
   * A frame with the first line of a Y4M file before it, its samples as they are in the movie. Throws FileError where
   * there is none.
   */
  frame(number: number): Promise<Buffer>;
  /** What is wrong with it, as far as it was read; undefined where nothing is. */
  complaint(): string | undefined;
  close(): void;
}

/**
 * Opens a movie. Its frames are decoded as they are asked for, none of their samples converted. Where its frames can be
 * found by their times a far one is sought; else what lies before what was read last, and is kept no more, begins anew.
 * Throws FileError for what ffmpeg cannot read, or where there is none.
 */
export function openMovie(path: string): Movie {
  const info = probeMovie(path);
  const { name, count: stored, isSeekable } = info;
  const cache = new LRUCache<number, Buffer>({ maxSize: KEPT_BYTES, sizeCalculation: ({ length }) => length });
  let run: Run | null = null;
  /** The last frame that was read, and whether the run to it began at the first. */
  let read = 0;
  let isFromStart = true;
  /** The first frame that could not be read, once one was asked for. */
  let missing: number | null = null;
  let said = "";
  let idle: NodeJS.Timeout | undefined;
  const end = () => {
    clearTimeout(idle);
    said ||= run?.said() ?? "";
    run?.end();
    run = null;
  };
  const complaint = () => {
    const [first] = (said || run?.said() || "").split("\n");
    if (missing !== null && missing <= stored) return cutOff(missing - 1, stored);
    return first ? `ffmpeg says of it: ${first}` : undefined;
  };
  /** Begins where the frame can be reached from, unless the run already goes there. */
  const reach = (number: number) => {
    const isAhead = number > read && (number <= read + READ_ON_FRAMES || !isSeekable);
    if (run && isAhead) return;
    end();
    const from = isSeekable && number > READ_ON_FRAMES ? number : 1;
    read = from - 1;
    isFromStart = from === 1;
    run = decode(info, from);
  };
  const find = async (number: number): Promise<Buffer> => {
    const before = cache.get(number);
    if (before) return before;
    reach(number);
    clearTimeout(idle);
    while (read < number) {
      const frame = await run!.next();
      if (!frame) {
        missing = Math.min(missing ?? Infinity, read + 1);
        const isEmpty = isFromStart && read === 0;
        end();
        const reason = isEmpty
          ? `cannot be read by ffmpeg: ${said.split("\n")[0] || "it holds no frames"}`
          : complaint();
        throw new FileError(name, reason ?? `has no frame ${number}`);
      }
      cache.set(++read, frame);
      if (read < number) continue;
      idle = setTimeout(end, IDLE_MS).unref();
      return frame;
    }
    throw new FileError(name, `has no frame ${number}`);
  };
  // One after another: a movie is read by one process at a time.
  let turn: Promise<unknown> = Promise.resolve();
  const frame = (number: number) => {
    const found = turn.then(() => find(number));
    turn = found.catch(() => {});
    return found;
  };
  const close = () => {
    end();
    opened.delete(movie);
  };
  const movie: Movie = { info, count: stored, frame, complaint, close };
  opened.add(movie);
  return movie;
}

const cutOff = (read: number, stored: number) =>
  `only ${read} of its ${stored} frames can be read; the movie is cut off or damaged`;

const opened = new Set<Movie>();

/** Closes what is still open: a program that has done its work does not wait for ffmpeg. */
export function closeMovies(): void {
  for (const movie of opened) movie.close();
}

/** Movies that are open because a frame of theirs was asked for by its file alone. */
const MAX_OPEN = 4;
const byFile = new LRUCache<MovieInfo, Movie>({ max: MAX_OPEN, dispose: (movie) => movie.close() });

/** The movie of a file, which stays open for the frames that come. */
export function movieOf(path: string): Movie {
  const info = probeMovie(path);
  const movie = byFile.get(info) ?? openMovie(path);
  byFile.set(info, movie);
  return movie;
}

/** The time code of a movie's frame, which counts from 1. */
function timeCodeAt({ timeCode, rate }: MovieInfo, number: number): string | undefined {
  const framesPerSecond = rate[0] / rate[1];
  const first = timeCode === undefined ? null : readTimeCode(timeCode, framesPerSecond);
  return first ? timeCodeText(later(first, number - 1), framesPerSecond) : undefined;
}

/** A frame of a movie, which counts from 1, with what the movie says of it. Throws FileError where there is none. */
export async function movieFrame(movie: Movie, number: number, choice: Choice = {}): Promise<Decoded> {
  const { info, count } = movie;
  const image = readY4m(info.name, await movie.frame(number), { ...choice, frame: 0 }, count);
  Object.assign(image.info, {
    timeCode: timeCodeAt(info, number),
    reel: info.reel,
    coding: info.coding,
    ...(info.isInterlaced ? { isInterlaced: true, assumed: [...(image.info.assumed ?? []), TAKEN_AS_ONE] } : {}),
  });
  return image;
}

/** Reads a movie from its beginning to its end and tells what is wrong with it; undefined where nothing is. */
export async function complaintOf({ info }: Movie): Promise<string | undefined> {
  const run = decode(info, 1);
  let read = 0;
  while (await run.next()) read++;
  if (read < info.count) return cutOff(read, info.count);
  const [first] = run.said().split("\n");
  return first ? `ffmpeg says of it: ${first}` : undefined;
}
