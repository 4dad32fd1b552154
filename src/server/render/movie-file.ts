/** A movie of a render's frames, coded through ffmpeg as they come. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { stat } from "node:fs/promises";
import { basename } from "node:path";
import type { WriteOptions } from "../../formats/format";
import { codingFor, containerOf, type MovieContainer } from "../../formats/movies";
import { y4mFrame, y4mHead, type Y4mOptions } from "../../formats/y4m/y4m";
import { FFMPEG } from "../footage/movies/ffmpeg";
import { discard, finish, temporaryFor } from "../storage/files";
import { movieSink, type OutputOptions, optionsFor, type Sink } from "./output";
import { asItIs, type Sound, soundInput } from "./sound";

/** Code points of H.273: what is not said, and primaries whose luma is BT.2020's. */
const [UNSAID, BT2020] = [2, 9];
/** Matrices of H.273. */
const [BT709_MATRIX, BT2020_MATRIX] = [1, 9];
const MAX_SAID = 2000;

/** What a movie says of its colour. */
function colourArguments({ tags }: WriteOptions): string[] {
  const { primaries = UNSAID, transfer = UNSAID } = tags?.cicp ?? {};
  const matrix = primaries === BT2020 ? BT2020_MATRIX : BT709_MATRIX;
  // Of the frames, which some encoders ask, and of the stream, which the others do.
  return [
    ...["-vf", `setparams=range=tv:color_primaries=${primaries}:color_trc=${transfer}:colorspace=${matrix}`],
    ...["-color_primaries", `${primaries}`, "-color_trc", `${transfer}`],
    ...["-colorspace", `${matrix}`, "-color_range", "tv"],
  ];
}

/** Its sound: as it is, where the container holds it so. */
function soundArguments(sound: Sound | null, { sound: kept }: MovieContainer): string[] {
  if (!sound) return [];
  return ["-map", "1:a", "-c:a", ...(kept.holds.test(sound.coding) ? [asItIs(sound)] : kept.else)];
}

/** The movie's luma and chroma as they go to ffmpeg. */
const samplesFor = (path: string, { depth, compression, framesPerSecond, pixelAspect, tags }: WriteOptions) =>
  ({
    chroma: codingFor(path, compression).chroma,
    depth: depth === "8" ? "8" : "10",
    framesPerSecond,
    pixelAspect,
    matrix: tags?.cicp?.primaries === BT2020 ? "bt2020" : "bt709",
  }) satisfies Y4mOptions;

/** What ffmpeg is told to make of Y4M frames that come by its input. */
function argumentsFor(path: string, temporary: string, options: WriteOptions, sound: Sound | null): string[] {
  const container = containerOf(path)!;
  const { timeCode, reel } = options;
  return [
    ...["-v", "error", "-y", "-f", "yuv4mpegpipe", "-i", "pipe:0"],
    ...(sound ? soundInput(sound) : []),
    ...["-map", "0:v:0", "-c:v", ...codingFor(path, options.compression).encoder(options.depth)],
    ...colourArguments(options),
    ...soundArguments(sound, container),
    ...(timeCode ? ["-timecode", timeCode] : []),
    ...(reel && container.keepsReel ? ["-metadata:s:v:0", `reel_name=${reel}`] : []),
    // The same frames are the same bytes: no time, no random id.
    ...["-fflags", "+bitexact", "-flags:v", "+bitexact"],
    ...(container.muxer === "mov" || container.muxer === "mp4" ? ["-movflags", "+write_colr+faststart"] : []),
    ...["-f", container.muxer, temporary],
  ];
}

/** Codes frames one after another into one movie, which is there when all of them are in it. */
export function encodedMovieSink(path: string, sound: Sound | null): Sink {
  const temporary = temporaryFor(path);
  let child: ChildProcess | null = null;
  let ended: Promise<number> = Promise.resolve(1);
  let said = "";
  const problem = () => new Error(`${basename(path)}: ffmpeg did not write it: ${said.split("\n")[0] || "it ended"}`);
  const start = (options: WriteOptions) => {
    const running = spawn(FFMPEG, argumentsFor(path, temporary, options, sound), { stdio: ["pipe", "ignore", "pipe"] });
    running.stderr.on("data", (part: Buffer) => (said = (said + part.toString()).slice(0, MAX_SAID)));
    // A pipe that breaks is told of by how the program ended.
    running.stdin.on("error", () => {});
    ended = new Promise((resolve) => {
      running.once("error", ({ message }) => {
        said ||= message;
        resolve(1);
      });
      running.once("close", (code) => resolve(code ?? 1));
    });
    return running;
  };
  const put = async (bytes: Buffer) => {
    const { stdin, exitCode } = child!;
    if (exitCode !== null || !stdin!.writable) throw problem();
    if (!stdin!.write(bytes)) await Promise.race([once(stdin!, "drain"), ended]);
  };
  return {
    async write(_, picture, options: OutputOptions) {
      const whole = optionsFor(path, options);
      const samples = samplesFor(path, whole);
      if (!child) {
        child = start(whole);
        await put(y4mHead(picture, samples));
      }
      const bytes = y4mFrame(picture, samples);
      await put(bytes);
      return null;
    },
    ledger: false,
    async end() {
      if (!child) return;
      child.stdin!.end();
      if ((await ended) !== 0) {
        await discard(temporary);
        throw problem();
      }
      await finish(temporary, path, (await stat(temporary)).size);
    },
    async abandon() {
      child?.kill("SIGKILL");
      await ended;
      await discard(temporary);
    },
  };
}

/** One file that holds all frames: Y4M, or a movie that is coded, with the sound it is given. */
export const oneFileSink = (path: string, sound: Sound | null): Sink =>
  containerOf(path) ? encodedMovieSink(path, sound) : movieSink(path);
