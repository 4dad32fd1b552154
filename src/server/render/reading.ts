/** Frames of a render as they are read: one ahead, and where it can be straight into the engine's memory. */
import type { Engine } from "../../core/engine/engine";
import { firstOf } from "../../core/frame/ranges";
import type { Choice, Decoded } from "../../formats/format";
import { fileOf } from "../footage/sequence";
import { loadFrame } from "../footage/source";
import type { RenderJob } from "./job";
import { isLinearFile } from "./output";

/** A frame that was read. */
export interface FrameRead {
  image: Decoded;
  /** Gives its room in the engine's memory back, unless the engine took it. */
  release(): void;
}

export interface FrameReader {
  read(number: number): Promise<FrameRead>;
  /** Begins to read a frame, for the next call of `read`. */
  prefetch(number: number): void;
  /** Drops what was read and not asked for. */
  end(): Promise<void>;
}

/** What a job reads of each of its frames. */
export function readingFor({
  output,
  frames,
  choice,
  layers = "drop",
}: Pick<RenderJob, "output" | "frames" | "choice" | "layers">): Choice {
  const isExr = isLinearFile(fileOf(output, firstOf(frames)));
  return { overscan: true, layers: isExr && layers !== "drop", ...choice };
}

export function frameReader(engine: Engine, job: RenderJob): FrameReader {
  const { source, gaps = "refuse" } = job;
  const reading = readingFor(job);
  let ahead: { number: number; frame: Promise<FrameRead> } | null = null;

  async function load(number: number): Promise<FrameRead> {
    const rooms: Float32Array[] = [];
    const memory = (samples: number) => {
      const room = engine.reserve(samples);
      rooms.push(room);
      return room;
    };
    const release = () => rooms.forEach((room) => engine.release(room));
    try {
      return { image: await loadFrame(source, number, { ...reading, memory }, gaps), release };
    } catch (error) {
      release();
      throw error;
    }
  }

  return {
    async read(number) {
      const begun = ahead;
      ahead = null;
      if (begun?.number === number) return begun.frame;
      await drop(begun);
      return load(number);
    },
    prefetch(number) {
      ahead = { number, frame: load(number) };
      ahead.frame.catch(() => {}); // it is awaited, and reported, in its turn
    },
    async end() {
      await drop(ahead);
      ahead = null;
    },
  };
}

const drop = async (begun: { frame: Promise<FrameRead> } | null) => (await begun?.frame.catch(() => null))?.release();
