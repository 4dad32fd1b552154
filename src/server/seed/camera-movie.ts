/** TL-051: what TL-050's camera recorded beside its frames, one ProRes movie of the same log-encoded pictures. */
import { spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { stat } from "node:fs/promises";
import { join } from "node:path";
import { between } from "../../core/frame/ranges";
import { codingFor } from "../../formats/movies";
import { extensionOf, SHOTS } from "../../demo/footage";
import { FFMPEG } from "../footage/movies/ffmpeg";
import { beginMaking } from "../footage/making";
import { discard, finish, temporaryFor } from "../storage/files";

export const RECORDED = SHOTS.find(({ id }) => id === "TL-050")!;
export const CAMERA_MOVIE = {
  id: "TL-051",
  name: "Lamp room, the camera’s movie",
  file: "TL-051.mov",
  footage: "demo-TL-051",
  framesPerSecond: 24,
  timeCode: "05:12:30:00",
  reel: "A050C002",
};
const CODING = "prores-422-hq";
/** The file says its matrix: a small picture would be taken for BT.601 otherwise. */
const SAYS_SO = "setparams=range=tv:colorspace=bt709";
const MAX_SAID = 500;

export const movieFile = (folder: string): string => join(/*turbopackIgnore: true*/ folder, CAMERA_MOVIE.file);

function codingArguments(folder: string, temporary: string): string[] {
  const { framesPerSecond, timeCode, reel } = CAMERA_MOVIE;
  return [
    ...["-v", "error", "-y", "-framerate", `${framesPerSecond}`, "-start_number", "1"],
    ...["-i", join(folder, `${RECORDED.id}.%04d.${extensionOf(RECORDED)}`)],
    ...["-vf", `scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int,${SAYS_SO}`],
    ...["-c:v", ...codingFor(CAMERA_MOVIE.file, CODING).encoder("10"), "-colorspace", "bt709", "-color_range", "tv"],
    ...["-timecode", timeCode, "-metadata:s:v:0", `reel_name=${reel}`],
    ...["-fflags", "+bitexact", "-flags:v", "+bitexact", "-movflags", "+write_colr+faststart", "-f", "mov", temporary],
  ];
}

/** Codes the movie from the frames in the folder, once. Throws where ffmpeg does not write it. */
export async function makeCameraMovie(folder: string, signal?: AbortSignal): Promise<void> {
  const path = movieFile(folder);
  if (existsSync(/*turbopackIgnore: true*/ path)) return;
  const temporary = temporaryFor(path);
  const child = spawn(FFMPEG, codingArguments(folder, temporary), { stdio: ["ignore", "ignore", "pipe"], signal });
  let said = "";
  child.stderr.on("data", (part: Buffer) => (said = (said + part.toString()).slice(0, MAX_SAID)));
  const code = await new Promise<number>((resolve) => {
    child.once("error", () => resolve(1));
    child.once("close", (status) => resolve(status ?? 1));
  });
  if (code === 0) return finish(temporary, path, (await stat(temporary)).size);
  await discard(temporary);
  throw new Error(`${CAMERA_MOVIE.file}: ffmpeg did not write it: ${said.split("\n")[0] || "it ended"}`);
}

/** Makes the movie known as being made. Gives what is told when it is there. */
export function announceMovie(folder: string): () => void {
  const all = between(1, RECORDED.frames);
  let isThere = existsSync(/*turbopackIgnore: true*/ movieFile(folder));
  beginMaking(CAMERA_MOVIE.footage, {
    ask: () => true,
    there: () => (isThere ? all : []),
    progress: () => (isThere ? 1 : 0),
  });
  return () => void (isThere = true);
}
