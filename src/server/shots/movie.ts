import { spawn, spawnSync } from "node:child_process";
import { createWriteStream, mkdtempSync, readdirSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, extname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import { FileError } from "../../formats/error";
import { isRunning, noteBegun } from "../storage/files";
import { bytesOf, type MovieSamples, planesOf, samplesOf } from "./movie-samples";

/** Movies are read on the command line through Debian's ffmpeg where it is on the PATH; nothing else needs it. */
const EXTENSIONS = [".mp4", ".mov", ".m4v", ".webm", ".mkv"];
export const isMovie = (path: string) => EXTENSIONS.includes(extname(path).toLowerCase());

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

const UNPACKED = "halo-movie-";

/** Takes away what commands that were killed had unpacked: their folders bear their process's number. */
function sweepUnpacked(): void {
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(new RegExp(`^${UNPACKED}(\\d+)-`).exec(name)?.[1]);
    if (pid && !isRunning(pid)) rmSync(join(tmpdir(), name), { recursive: true, force: true });
  }
}

/** The first line of the Y4M file that a movie's samples go into: all that the movie says of them. */
function headOf(probed: Probed, { chroma, bits, isRgb, hasAlpha, isFull }: MovieSamples): string {
  // ffmpeg turns the frames as the movie says they lie.
  const isTurned = probed.side_data_list?.some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90) ?? false;
  const [width, height] = isTurned ? [probed.height, probed.width] : [probed.width, probed.height];
  const sited = chroma === "420" && bits === 8 ? (probed.chroma_location === "center" ? "jpeg" : "mpeg2") : "";
  const matrix = isRgb ? "RGB" : MATRICES[probed.color_space ?? ""];
  const transfer = TRANSFERS[probed.color_transfer ?? ""];
  const primaries = PRIMARIES[probed.color_primaries ?? ""];
  const range = isFull || probed.color_range === "pc" ? "FULL" : probed.color_range === "tv" ? "LIMITED" : null;
  return [
    `YUV4MPEG2 W${width} H${height} F${(probed.r_frame_rate ?? "24/1").replace("/", ":")} Ip A1:1`,
    `C${chroma}${sited}${bits > 8 ? `${chroma === "mono" ? "" : "p"}${bits}` : ""}`,
    matrix && `XHALOMATRIX=${matrix}`,
    transfer && `XHALOTRANSFER=${transfer}`,
    primaries && `XHALOPRIMARIES=${primaries}`,
    hasAlpha && "XHALOALPHA=1",
    range && `XCOLORRANGE=${range}`,
  ]
    .filter(Boolean)
    .join(" ");
}

/** A movie's frames in a Y4M file: `remove` takes it away again; `complaint` is what is wrong with the movie, if anything is. */
export interface Unpacked {
  y4m: string;
  complaint?: string;
  remove(): void;
}

/** Decodes a movie into a Y4M file of its own samples, none of them converted, every frame that is stored once. */
export async function unpackMovie(path: string): Promise<Unpacked> {
  const name = basename(path);
  const probed = probe(path);
  const samples = samplesOf(probed.pix_fmt ?? "");
  if (!samples) throw new FileError(name, `holds samples as ${probed.pix_fmt}, which are not read`);
  sweepUnpacked();
  const folder = mkdtempSync(join(tmpdir(), `${UNPACKED}${process.pid}-`));
  noteBegun(folder);
  const y4m = join(folder, `${basename(path, extname(path))}.y4m`);
  const remove = () => rmSync(folder, { recursive: true, force: true });
  try {
    const { frames, said } = await decodeInto(y4m, path, probed, samples);
    const stored = Math.max(Number(probed.nb_frames ?? 0), Number(probed.nb_read_packets ?? 0));
    const [first] = said.split("\n");
    if (!frames) throw new FileError(name, `cannot be read by ffmpeg: ${first || "it holds no frames"}`);
    const complaint =
      frames < stored
        ? `only ${frames} of its ${stored} frames can be read; the movie is cut off or damaged`
        : first && `ffmpeg says of it: ${first}`;
    return { y4m, remove, ...(complaint ? { complaint } : {}) };
  } catch (error) {
    remove();
    throw error;
  }
}

/** Longest part of what ffmpeg says that is kept, characters. */
const MOST_SAID = 2000;

async function decodeInto(
  y4m: string,
  path: string,
  probed: Probed,
  samples: MovieSamples,
): Promise<{ frames: number; said: string }> {
  const raw = ["-pix_fmt", samples.pixelFormat, "-f", "rawvideo", "pipe:1"];
  const child = spawn("ffmpeg", ["-v", "error", "-i", path, "-map", "0:v:0", "-fps_mode", "passthrough", ...raw], {
    stdio: ["ignore", "pipe", "pipe"],
  });
  const ended = new Promise((resolve) => child.once("close", resolve));
  let said = "";
  const hear = (text: string) => (said = (said + text).slice(0, MOST_SAID));
  child.stderr.on("data", (part: Buffer) => hear(part.toString()));
  child.once("error", ({ message }) => hear(message));
  let frames = 0;
  const frameBytes = bytesOf(samples, probed.width, probed.height);
  async function* lines() {
    yield Buffer.from(`${headOf(probed, samples)}\n`, "latin1");
    let [frame, filled] = [Buffer.alloc(frameBytes), 0];
    for await (const part of child.stdout as AsyncIterable<Buffer>)
      for (let at = 0; at < part.length;) {
        const some = part.copy(frame, filled, at);
        [at, filled] = [at + some, filled + some];
        if (filled < frameBytes) continue;
        yield Buffer.concat([Buffer.from("FRAME\n"), planesOf(samples, frame)]);
        [frame, filled] = [Buffer.alloc(frameBytes), 0];
        frames++;
      }
  }
  try {
    await pipeline(lines, createWriteStream(y4m));
  } finally {
    child.kill();
  }
  await ended;
  return { frames, said };
}
