import { spawn } from "node:child_process";
import { FFMPEG } from "./ffmpeg";
import type { MovieInfo } from "./probe";
import { bytesOf, planesOf } from "./samples";

/** Longest part of what ffmpeg says that is kept, characters. */
const MAX_SAID = 2000;
/** A frame is sought so much before its time, frames: the one before it ends there, and times are rounded. */
const SEEK_BEFORE = 0.25;

/** A run through a movie: frames one after another, as fast as they are taken. */
export interface Run {
  /** A frame with the first line of a Y4M file before it; undefined after the last. */
  next(): Promise<Buffer | undefined>;
  /** What ffmpeg said. */
  said(): string;
  end(): void;
}

/** Decodes a movie from a frame on, which counts from 1. */
export function decode({ path, width, height, samples, head, rate, start }: MovieInfo, from: number): Run {
  const seconds = start + ((from - 1 - SEEK_BEFORE) * rate[1]) / rate[0];
  const seek = from > 1 ? ["-ss", Math.max(0, seconds).toFixed(6)] : [];
  const raw = ["-pix_fmt", samples.pixelFormat, "-f", "rawvideo", "pipe:1"];
  const child = spawn(
    FFMPEG,
    ["-v", "error", ...seek, "-i", path, "-map", "0:v:0", "-fps_mode", "passthrough", ...raw],
    {
      stdio: ["ignore", "pipe", "pipe"],
    },
  );
  const ended = new Promise((resolve) => child.once("close", resolve));
  let said = "";
  const hear = (text: string) => (said = (said + text).slice(0, MAX_SAID));
  child.stderr.on("data", (part: Buffer) => hear(part.toString()));
  child.once("error", ({ message }) => hear(message));
  const frameBytes = bytesOf(samples, width, height);
  const line = Buffer.from(`${head}\nFRAME\n`, "latin1");
  async function* frames() {
    let [frame, filled] = [Buffer.alloc(frameBytes), 0];
    for await (const part of child.stdout as AsyncIterable<Buffer>)
      for (let at = 0; at < part.length;) {
        const some = part.copy(frame, filled, at);
        [at, filled] = [at + some, filled + some];
        if (filled < frameBytes) continue;
        yield Buffer.concat([line, planesOf(samples, frame)]);
        [frame, filled] = [Buffer.alloc(frameBytes), 0];
      }
    await ended;
  }
  const iterator = frames();
  return {
    next: async () => (await iterator.next()).value as Buffer | undefined,
    said: () => said,
    end: () => {
      // It may wait for somebody to take what it writes, and hear of nothing else.
      child.stdout.destroy();
      child.kill("SIGKILL");
    },
  };
}
