/** The sound of a movie that is rendered: into the movie that comes of it, or beside its frames. */
import { spawn } from "node:child_process";
import { stat } from "node:fs/promises";
import { join } from "node:path";
import { countOf, firstOf, lastOf, type Ranges } from "../../core/frame/ranges";
import { isMovieName } from "../../core/image/movies";
import { holdsAllFrames } from "../../formats/formats";
import { containerOf } from "../../formats/movies";
import { FFMPEG } from "../footage/movies/ffmpeg";
import { probeMovie } from "../footage/movies/probe";
import { isSequence, type Pattern } from "../footage/sequence";
import { fileAt, type Source } from "../footage/source";
import { discard, finish, temporaryFor } from "../storage/files";

export interface Sound {
  /** The movie's file. */
  path: string;
  /** Where it begins and how long it is, s. */
  from: number;
  seconds: number;
  /** How it is coded, as ffmpeg names it. */
  coding: string;
}

/** The sound of so many frames of a source; null where there is none, or where frames are left out between them. */
export function soundOf(source: Source, frames: Ranges): Sound | null {
  const first = firstOf(frames);
  const { path } = fileAt(source.pattern, first);
  if (!isMovieName(path) || lastOf(frames) - first + 1 !== countOf(frames)) return null;
  const { sound, rate, start } = probeMovie(path);
  const perFrame = rate[1] / rate[0];
  const from = Math.max(0, start + (first - 1) * perFrame);
  return sound.length ? { path, from, seconds: countOf(frames) * perFrame, coding: sound[0]! } : null;
}

/** What of a source's sound does not go on as it is into a file of this name; empty where all does, or there is none. */
export function soundLost(source: Source, frames: Ranges, output: string): string[] {
  const { path } = fileAt(source.pattern, firstOf(frames));
  if (!isMovieName(path) || !probeMovie(path).sound.length) return [];
  const sound = soundOf(source, frames);
  const container = containerOf(output);
  if (!sound || (!container && holdsAllFrames(output))) return ["sound"];
  return container && !container.sound.holds.test(sound.coding)
    ? [`sound as ${sound.coding}, which becomes ${container.sound.called}`]
    : [];
}

/** What ffmpeg is told to read of it. */
export const soundInput = ({ path, from, seconds }: Sound): string[] => [
  ...["-ss", from.toFixed(6), "-t", seconds.toFixed(6)],
  ...["-i", path],
];

/** A coding that keeps it as it is. Samples are written anew, so that they begin where the pictures do, to the sample. */
export const asItIs = ({ coding }: Sound) => (coding.startsWith("pcm_") ? coding : "copy");

/** Samples that a WAV file holds as they are. */
const IN_WAV = /^pcm_(s16le|s24le|s32le|f32le)$/;

/** The name of the file that a sequence's sound is kept in. */
export const soundFile = ({ folder, before }: Pattern): string =>
  join(folder, `${before.replace(/[._-]+$/, "") || "sound"}.wav`);

/** The file that the sound of a sequence goes to beside it; none where there is no sound, or no sequence. */
export const soundBeside = (source: Source, frames: Ranges, output: Pattern): string[] =>
  isSequence(output) && soundOf(source, frames) ? [soundFile(output)] : [];

/** Writes the sound of a sequence's frames beside them. Throws what ffmpeg says where it cannot. */
export async function keepSound(sound: Sound, path: string): Promise<void> {
  const temporary = temporaryFor(path);
  const coded = IN_WAV.test(sound.coding) ? sound.coding : "pcm_s24le";
  const out = ["-map", "0:a", "-c:a", coded, "-fflags", "+bitexact", "-f", "wav", temporary];
  const child = spawn(FFMPEG, ["-v", "error", "-y", ...soundInput(sound), ...out], {
    stdio: ["ignore", "ignore", "pipe"],
  });
  let said = "";
  child.stderr.on("data", (part: Buffer) => (said += part.toString()));
  const status = await new Promise<number>((resolve) => {
    child.once("error", () => resolve(1));
    child.once("close", (code) => resolve(code ?? 1));
  });
  if (status === 0) return finish(temporary, path, (await stat(temporary)).size);
  await discard(temporary);
  throw new Error(`the sound was not kept: ${said.split("\n")[0] ?? "ffmpeg did not write it"}`);
}
