import { spawn, spawnSync } from "node:child_process";
import { createReadStream, createWriteStream, mkdtempSync, readdirSync, rmSync, statSync } from "node:fs";
import { open, rename } from "node:fs/promises";
import { tmpdir } from "node:os";
import { basename, extname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import { FileError } from "../../formats/error";
import { isRunning, noteBegun } from "../storage/files";

/** Movies are read on the command line through Debian's ffmpeg where it is on the PATH; nothing else needs it. */
const EXTENSIONS = [".mp4", ".mov", ".m4v", ".webm", ".mkv"];
export const isMovie = (path: string) => EXTENSIONS.includes(extname(path).toLowerCase());

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
  "iec61966-2-1": "SRGB",
  smpte2084: "PQ",
  "arib-std-b67": "HLG",
};

interface Probed {
  pix_fmt?: string;
  color_space?: string;
  color_transfer?: string;
  color_range?: string;
}

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
      "-show_entries",
      "stream=pix_fmt,color_space,color_transfer,color_range",
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
  if (!stream) throw new FileError(basename(path), "holds no pictures that ffmpeg can read");
  return stream;
}

/** Samples that Y4M carries, nearest to the movie's own. */
function sampleFormat(pixelFormat = "yuv420p"): string {
  const deep = /1[0-6](le|be)/.test(pixelFormat);
  const chroma = /444|gbr|rgb/.test(pixelFormat) ? "444" : /422/.test(pixelFormat) ? "422" : "420";
  return `yuv${chroma}p${deep ? "10le" : ""}`;
}

const UNPACKED = "halo-movie-";

/** Takes away what commands that were killed had unpacked: their folders bear their process's number. */
function sweepUnpacked(): void {
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(new RegExp(`^${UNPACKED}(\\d+)-`).exec(name)?.[1]);
    if (pid && !isRunning(pid)) rmSync(join(tmpdir(), name), { recursive: true, force: true });
  }
}

/** Decodes a movie into a Y4M file of its own samples at a constant rate; `remove` takes it away again. */
export async function unpackMovie(path: string): Promise<{ y4m: string; remove(): void }> {
  const {
    pix_fmt: pixelFormat,
    color_space: space = "",
    color_transfer: transfer = "",
    color_range: range,
  } = probe(path);
  sweepUnpacked();
  const folder = mkdtempSync(join(tmpdir(), `${UNPACKED}${process.pid}-`));
  noteBegun(folder);
  const y4m = join(folder, `${basename(path, extname(path))}.y4m`);
  const remove = () => rmSync(folder, { recursive: true, force: true });
  const arguments_ = [
    "-v",
    "error",
    "-i",
    path,
    "-map",
    "0:v:0",
    "-fps_mode",
    "cfr",
    "-pix_fmt",
    sampleFormat(pixelFormat),
    "-strict",
    "-1",
    "-f",
    "yuv4mpegpipe",
    y4m,
  ];
  const problem = await new Promise<string | null>((resolve) => {
    const child = spawn("ffmpeg", arguments_, { stdio: ["ignore", "ignore", "pipe"] });
    let said = "";
    child.stderr.on("data", (part: Buffer) => (said = (said + part.toString()).slice(-2000)));
    child.on("error", () => resolve("is a movie, which is read through ffmpeg; install it"));
    child.on("close", (code) => resolve(code === 0 ? null : `cannot be read by ffmpeg: ${said.split("\n")[0] ?? ""}`));
  });
  if (problem) {
    remove();
    throw new FileError(basename(path), problem);
  }
  await addParameters(
    y4m,
    [
      MATRICES[space] && `XHALOMATRIX=${MATRICES[space]}`,
      TRANSFERS[transfer] && `XHALOTRANSFER=${TRANSFERS[transfer]}`,
      range === "pc" && "XCOLORRANGE=FULL",
    ].filter((word): word is string => Boolean(word)),
  );
  return { y4m, remove };
}

/** Puts further parameters on the first line of a Y4M file. */
async function addParameters(path: string, words: string[]): Promise<void> {
  if (!words.length) return;
  const file = await open(path);
  const head = Buffer.alloc(1024);
  await file.read(head, 0, head.length, 0);
  await file.close();
  const end = head.indexOf(0x0a);
  const own = words.map((word) => word.split("=")[0]);
  const line = [
    ...head
      .toString("latin1", 0, end)
      .split(" ")
      .filter((word) => !own.includes(word.split("=")[0])),
    ...words,
  ].join(" ");
  const out = createWriteStream(`${path}.more`);
  out.write(`${line}\n`);
  await pipeline(createReadStream(path, { start: end + 1 }), out);
  await rename(`${path}.more`, path);
}
