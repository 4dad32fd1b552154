import { type FileHandle, open } from "node:fs/promises";
import type { Encoding } from "../../core/colour/encodings";
import { AP1, type Primaries } from "../../core/colour/primaries";
import { countOf, type Ranges } from "../../core/frame/ranges";
import type { Depth } from "../../core/image/image";
import { type ColourTags, type Metadata, type Picture, RECIPE_FIELD } from "../../formats/format";
import { describedFormat, formatOf, y4mOptions } from "../../formats/formats";
import { codingFor, containerOf } from "../../formats/movies";
import { y4mFrame, y4mHead } from "../../formats/y4m/y4m";
import { digestOf } from "../storage/content";
import { discard, finish, temporaryFor, writeAll, writeWhole } from "../storage/files";
import { ensureRoom } from "../storage/room";
import { startEncoder } from "./encoding";
import { version } from "../../../package.json";

/** What a file says it was written by. */
const SOFTWARE = `Pale Halo ${version}`;

export interface OutputOptions extends Metadata {
  depth: Depth;
  compression?: string;
  /** Null: the pixels are the look's view or, in EXR, working light. */
  encoding: Encoding | null;
  /** What a view's display shows, for the file's colour tags. */
  display?: string;
  recipe?: string;
}

export const isLinearFile = (path: string) => formatOf(path)?.name === "OpenEXR";

/** Depths a file of this name can be written with, in a compression; the first is the default. */
export const depthsFor = (path: string, compression?: string): Depth[] =>
  containerOf(path)?.compressions.length ? codingFor(path, compression).depths : (describedFormat(path)?.write ?? []);

/** Code points of H.273 for the encodings that have them: primaries, transfer. */
const CICP: Record<string, [number, number]> = {
  srgb: [1, 13],
  rec709: [1, 1],
  bt1886: [1, 1],
  rec2020: [9, 14],
  "p3-d65": [12, 2],
  "display-p3": [12, 13],
  pq: [9, 16],
  hlg: [9, 18],
  "linear-rec709": [1, 8],
  "linear-rec2020": [9, 8],
};

/**
 * Transfer and colorimetric characteristics of SMPTE 268M: those it has a code for; any other is the user's own (0).
 */
const DPX: Record<string, NonNullable<ColourTags["dpx"]>> = {
  "log-film": { transfer: 1, colorimetric: 1 },
  "linear-rec709": { transfer: 2, colorimetric: 6 },
  "linear-ap0": { transfer: 2, colorimetric: 0 },
  "linear-ap1": { transfer: 2, colorimetric: 0 },
  "linear-rec2020": { transfer: 2, colorimetric: 0 },
  rec709: { transfer: 6, colorimetric: 6 },
  bt1886: { transfer: 6, colorimetric: 6 },
  srgb: { transfer: 0, colorimetric: 6 },
};
const NO_DPX = { transfer: 0, colorimetric: 0 };

const flat = ({ red, green, blue, white }: Primaries) => [...red, ...green, ...blue, ...white];

/** What a file says of its colour: of the encoding written, or of the view's display. */
export function tagsFor(
  { encoding, display }: Pick<OutputOptions, "encoding" | "display">,
  linear: boolean,
): ColourTags {
  const name = encoding?.name ?? display ?? "";
  const code = CICP[name];
  const primaries = encoding ? encoding.primaries : linear ? AP1 : null;
  return {
    ...(primaries ? { chromaticities: flat(primaries) } : {}),
    ...(code ? { cicp: { primaries: code[0], transfer: code[1], matrix: 0, fullRange: true } } : {}),
    dpx: DPX[name] ?? NO_DPX,
  };
}

/** What is written beside a picture, in full. */
export function optionsFor(
  path: string,
  { depth, compression, recipe, text, encoding, display, ...carried }: OutputOptions,
) {
  return {
    depth,
    compression,
    ...carried,
    text: { ...text, Software: SOFTWARE, ...(recipe ? { [RECIPE_FIELD]: recipe } : {}) },
    tags: tagsFor({ encoding, display }, isLinearFile(path)),
  };
}

/** A file that was written. */
export interface Written {
  /** bytes */
  size: number;
  sha256: string;
}

/** Where frames of one job go: files of their own, or one file that holds them all. */
export interface Sink {
  /**
   * Writes a frame, and says what its file became; null where it has none of its own. The picture's samples may be
   * gone afterwards.
   */
  write(path: string, picture: Picture, options: OutputOptions): Promise<Written | null>;
  /** What is written is entered in the folder's ledger, file by file. */
  ledger: boolean;
  /** Makes what was written last; what was not ended is not there. */
  end(): Promise<void>;
  abandon(): Promise<void>;
}

/** Writes each frame under a temporary name and renames, so that a frame is either whole or not there. */
export const frameSink: Sink = {
  async write(path, picture, options) {
    const bytes = await formatOf(path)!.encode(picture, optionsFor(path, options));
    await writeWhole(path, bytes);
    return { size: bytes.length, sha256: digestOf(bytes) };
  },
  ledger: true,
  end: () => Promise.resolve(),
  abandon: () => Promise.resolve(),
};

/** The same, with another thread that makes files of pictures while the next one is computed. */
export function threadedFrameSink(): Sink {
  const encoder = startEncoder();
  return {
    async write(path, picture, options) {
      const { bytes, sha256 } = await encoder.encode({ path, picture, options: optionsFor(path, options) });
      await writeWhole(path, bytes);
      return { size: bytes.length, sha256 };
    },
    ledger: true,
    end: () => encoder.close(),
    abandon: () => encoder.close(),
  };
}

/** A thread costs more than a single frame gains by it. */
export const framesSink = (frames: Ranges): Sink => (countOf(frames) > 1 ? threadedFrameSink() : frameSink);

/** Writes frames one after another into one Y4M file, which is there when all of them are in it. */
export function movieSink(path: string): Sink {
  const temporary = temporaryFor(path);
  let file: FileHandle | null = null;
  let size = 0;
  const put = async (bytes: Uint8Array) => {
    await writeAll(file!, bytes);
    size += bytes.length;
  };
  return {
    async write(_, picture, options) {
      const own = y4mOptions(optionsFor(path, options));
      if (!file) {
        file = await open(temporary, "w");
        await put(y4mHead(picture, own));
      }
      const bytes = y4mFrame(picture, own);
      await put(bytes);
      return null;
    },
    ledger: false,
    async end() {
      await file?.close();
      if (file) await finish(temporary, path, size);
    },
    async abandon() {
      await file?.close();
      await discard(temporary);
    },
  };
}

/** A sink that leaves the database the room it needs on the disk it shares with what is written. */
export const withRoom = (sink: Sink, folder: string): Sink => ({
  ...sink,
  async write(path, picture, options) {
    await ensureRoom(folder, picture.width * picture.height * MAX_PIXEL);
    return sink.write(path, picture, options);
  },
});
/** What a pixel can become in a file at most, bytes: RGBA float and depth, stored plain. */
const MAX_PIXEL = 20;
