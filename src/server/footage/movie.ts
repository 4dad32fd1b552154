import { spawn, spawnSync } from "node:child_process";
import { statSync } from "node:fs";
import { basename } from "node:path";
import { LRUCache } from "lru-cache";
import { y4mHeadLine } from "../../core/image/y4m-head";
import { FileError } from "../../formats/error";
import { bytesOf, type MovieSamples, planesOf, samplesOf } from "./movie-samples";

/** Movies are read on the command line through Debian's ffmpeg where it is on the PATH; nothing else needs it. */

/** What ffprobe calls things, and what the Y4M file's parameters do. */
const MATRICES: Record<string, string> = {
  bt709: "BT709",
  smpte170m: "BT601",
  bt470bg: "BT601",
  bt2020nc: "BT2020",
  bt2020c: "BT2020",
};
const TRANSFERS: Record<string, string> = {
  bt709: "BT1886",
  smpte170m: "BT1886",
  "bt2020-10": "BT1886",
  "bt2020-12": "BT1886",
  "iec61966-2-1": "SRGB",
  smpte2084: "PQ",
  "arib-std-b67": "HLG",
};
const PRIMARIES: Record<string, string> = { bt709: "BT709", bt2020: "BT2020", smpte432: "P3D65" };

interface Probed {
  width: number;
  height: number;
  pix_fmt?: string;
  color_space?: string;
  color_transfer?: string;
  color_primaries?: string;
  color_range?: string;
  chroma_location?: string;
  field_order?: string;
  r_frame_rate?: string;
  nb_frames?: string;
  nb_read_packets?: string;
  side_data_list?: { rotation?: number }[];
}

const ASKED =
  "width,height,pix_fmt,color_space,color_transfer,color_primaries,color_range,chroma_location,field_order," +
  "r_frame_rate,nb_frames,nb_read_packets:stream_side_data=rotation";

function probe(path: string): Probed {
  if (!statSync(path, { throwIfNoEntry: false })?.isFile())
    throw new FileError(basename(path), "there is no such file, or it is no ordinary one");
  const { stdout, error, status } = spawnSync(
    "ffprobe",
    [
      "-v",
      "error",
      "-select_streams",
      "v:0",
      "-count_packets",
      "-show_entries",
      `stream=${ASKED}`,
      "-of",
      "json",
      path,
    ],
    { encoding: "utf8" },
  );
  if (error)
    throw new FileError(
      basename(path),
      "is a movie, which is read through ffmpeg; install it, or take the movie in with the browser",
    );
  const stream = status === 0 ? (JSON.parse(stdout) as { streams?: Probed[] }).streams?.[0] : undefined;
  if (!stream?.width) throw new FileError(basename(path), "holds no pictures that ffmpeg can read");
  if (["tt", "bb", "tb", "bt"].includes(stream.field_order ?? ""))
    throw new FileError(basename(path), "is interlaced; progressive frames are read");
  return stream;
}

/** The first line of a Y4M file of a movie's samples: all that the movie says of them. */
function headOf(probed: Probed, { chroma, bits, isRgb, hasAlpha, isFull }: MovieSamples): string {
  // ffmpeg turns the frames as the movie says they lie.
  const isTurned = probed.side_data_list?.some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90) ?? false;
  const [width, height] = isTurned ? [probed.height, probed.width] : [probed.width, probed.height];
  const [numerator = 24, denominator = 1] = (probed.r_frame_rate ?? "24/1").split("/").map(Number);
  const matrix = isRgb ? "RGB" : MATRICES[probed.color_space ?? ""];
  const transfer = TRANSFERS[probed.color_transfer ?? ""];
  const primaries = PRIMARIES[probed.color_primaries ?? ""];
  const range = isFull || probed.color_range === "pc" ? "FULL" : probed.color_range === "tv" ? "LIMITED" : undefined;
  return y4mHeadLine({
    width,
    height,
    rate: [numerator, denominator],
    chroma,
    bits,
    siting: probed.chroma_location === "center" ? "jpeg" : "mpeg2",
    ...{ range, matrix, transfer, primaries, hasAlpha },
  });
}

/** Frames that are kept after they were read: what a look takes beside a frame lies near it. */
const KEPT_BYTES = 256 * 2 ** 20;
/** Longest part of what ffmpeg says that is kept, characters. */
const MAX_SAID = 2000;

/** A movie whose frames are decoded as they are asked for, from 1 on. */
export interface Movie {
  name: string;
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

/** One run through a movie from its beginning: frames one after another, as fast as they are taken. */
function decode(path: string, probed: Probed, samples: MovieSamples) {
  const raw = ["-pix_fmt", samples.pixelFormat, "-f", "rawvideo", "pipe:1"];
  const child = spawn("ffmpeg", ["-v", "error", "-i", path, "-map", "0:v:0", "-fps_mode", "passthrough", ...raw], {
    stdio: ["ignore", "pipe", "pipe"],
  });
  const ended = new Promise((resolve) => child.once("close", resolve));
  let said = "";
  const hear = (text: string) => (said = (said + text).slice(0, MAX_SAID));
  child.stderr.on("data", (part: Buffer) => hear(part.toString()));
  child.once("error", ({ message }) => hear(message));
  const frameBytes = bytesOf(samples, probed.width, probed.height);
  const head = Buffer.from(`${headOf(probed, samples)}\nFRAME\n`, "latin1");
  async function* frames() {
    let [frame, filled] = [Buffer.alloc(frameBytes), 0];
    for await (const part of child.stdout as AsyncIterable<Buffer>)
      for (let at = 0; at < part.length;) {
        const some = part.copy(frame, filled, at);
        [at, filled] = [at + some, filled + some];
        if (filled < frameBytes) continue;
        yield Buffer.concat([head, planesOf(samples, frame)]);
        [frame, filled] = [Buffer.alloc(frameBytes), 0];
      }
    await ended;
  }
  const iterator = frames();
  return {
    next: async () => (await iterator.next()).value as Buffer | undefined,
    said: () => said,
    end: () => void child.kill(),
  };
}

/**
 * Opens a movie. Its frames are decoded in order, none of their samples converted; one that lies before what was read
 * last, and is kept no more, begins anew. Throws FileError for what ffmpeg cannot read, or where there is none.
 */
export function openMovie(path: string): Movie {
  const name = basename(path);
  const probed = probe(path);
  const samples = samplesOf(probed.pix_fmt ?? "");
  if (!samples) throw new FileError(name, `holds samples as ${probed.pix_fmt}, which are not read`);
  const stored = Math.max(Number(probed.nb_frames ?? 0), Number(probed.nb_read_packets ?? 0), 1);
  const cache = new LRUCache<number, Buffer>({ maxSize: KEPT_BYTES, sizeCalculation: ({ length }) => length });
  let run: ReturnType<typeof decode> | null = null;
  let read = 0;
  /** Frames there are, once the last was read. */
  let total: number | null = null;
  let said = "";
  const end = () => {
    said ||= run?.said() ?? "";
    run?.end();
    run = null;
    read = 0;
  };
  const complaint = () => {
    const [first] = (said || run?.said() || "").split("\n");
    if (total !== null && total < stored)
      return `only ${total} of its ${stored} frames can be read; the movie is cut off or damaged`;
    return first ? `ffmpeg says of it: ${first}` : undefined;
  };
  const find = async (number: number): Promise<Buffer> => {
    const before = cache.get(number);
    if (before) return before;
    if (number <= read) end();
    run ??= decode(path, probed, samples);
    while (read < number) {
      const frame = await run.next();
      if (!frame) {
        total = read;
        end();
        const reason = total ? complaint() : `cannot be read by ffmpeg: ${said.split("\n")[0] || "it holds no frames"}`;
        throw new FileError(name, reason ?? `has no frame ${number}`);
      }
      cache.set(++read, frame);
      if (read === number) return frame;
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
  const movie: Movie = { name, count: stored, frame, complaint, close };
  opened.add(movie);
  return movie;
}

const opened = new Set<Movie>();

/** Closes what is still open: a program that has done its work does not wait for ffmpeg. */
export function closeMovies(): void {
  for (const movie of opened) movie.close();
}

/** Reads a movie to its end and tells what is wrong with it; undefined where nothing is. */
export async function complaintOf(movie: Movie): Promise<string | undefined> {
  await movie.frame(movie.count).catch((error: unknown) => {
    if (!(error instanceof FileError)) throw error;
  });
  // ffmpeg says what it has to say before it ends: a frame more than there are is asked for.
  await movie.frame(movie.count + 1).catch(() => {});
  return movie.complaint();
}
