import { existsSync } from "node:fs";
import { mkdir } from "node:fs/promises";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { SHOTS } from "./scenes/shots";
import type { Shot } from "./scenes/shot";
import type { Plates } from "./render/picture";
import type { Task } from "./worker";

export const DEMO_SIZE = { width: 1280, height: 720 };
/** Rows of plates in a task: small enough that threads end together. */
const TRACE_ROWS = 8;

export const extensionOf = ({ delivered }: Pick<Shot, "delivered">) => (delivered === "log" ? "dpx" : "exr");

export const frameFile = (folder: string, shot: Pick<Shot, "id" | "delivered">, number: number) =>
  join(folder, `${shot.id}.${String(number).padStart(4, "0")}.${extensionOf(shot)}`);

/** Plates of several shots are held at once for frames of up to so many pixels; larger shots are made one after another. */
const TOGETHER_BELOW = 2 ** 21;

/** The frame a shot opens on: a third of the way through. */
export const openingFrame = ({ frames }: Pick<Shot, "frames">) => Math.floor(frames / 3) + 1;

interface Making {
  /** Where frames go. */
  folder: string;
  size: { width: number; height: number };
  /** The built worker. */
  program: string;
  threads: number;
  /** Only the frame each shot opens on. */
  onlyOpening?: boolean;
  progress(shot: Shot, done: number, of: number): void;
  signal?: AbortSignal;
}

/** What is left to do of a shot: its plates are traced once, and every frame is drawn from them. */
interface Begun {
  shot: Shot;
  /** Null until they are traced. */
  plates: Plates | null;
  frames: Extract<Task, { kind: "frame" }>[];
  /** In frames; tracing the plates counts as much as drawing all of them. */
  done: number;
  whole: number;
}

/** Does tasks on threads of their own; each is told of when it is done. */
async function perform({ shot, plates }: Begun, tasks: Task[], making: Making, told: () => void): Promise<void> {
  const { size, program, signal } = making;
  const queue = [...tasks];
  const workerData = { shotId: shot.id, plates, ...size };
  const workers = Array.from(
    { length: Math.min(making.threads, queue.length) },
    () => new Worker(program, { workerData }),
  );
  const work = (worker: Worker) =>
    new Promise<void>((resolve, reject) => {
      let task: Task | undefined;
      const next = () => {
        if (task) told();
        task = queue.shift();
        if (signal?.aborted) reject(signal.reason as Error);
        else if (task) worker.postMessage(task);
        else resolve();
      };
      worker.on("message", next).on("error", reject);
      next();
    });
  try {
    await Promise.all(workers.map(work));
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
}

/** Frames of a shot that are not there, the one it opens on first. */
function missingOf(shot: Shot, { folder, onlyOpening }: Making): Begun["frames"] {
  const opening = openingFrame(shot);
  const others = Array.from({ length: shot.frames }, (_, i) => i + 1).filter((number) => number !== opening);
  return [opening, ...(onlyOpening ? [] : others)]
    .map((number) => ({ kind: "frame" as const, number, path: frameFile(folder, shot, number) }))
    .filter(({ path }) => !existsSync(path));
}

/** Traces a shot's plates. */
async function traced(begun: Begun, making: Making): Promise<void> {
  const { shot, frames } = begun;
  const plates = shot.plates(making.size.width, making.size.height);
  begun.plates = plates;
  const tasks: Task[] = [];
  for (let y0 = 0; y0 < plates.height; y0 += TRACE_ROWS)
    tasks.push({ kind: "trace", y0, y1: Math.min(plates.height, y0 + TRACE_ROWS) });
  const share = frames.length / tasks.length;
  await perform(begun, tasks, making, () => {
    begun.done += share;
    making.progress(shot, Math.min(begun.done, begun.whole), begun.whole);
  });
}

/** Draws frames of a shot, whose plates are traced first where they are not. */
async function drawn(begun: Begun, count: number, making: Making): Promise<void> {
  if (!begun.frames.length) return;
  if (!begun.plates) await traced(begun, making);
  await perform(begun, begun.frames.splice(0, count), making, () =>
    making.progress(begun.shot, Math.min(++begun.done, begun.whole), begun.whole),
  );
}

/**
 * Computes shots into a folder; frames that are there are left. Of each shot first the frame it opens on, so that something of all of
 * them can be looked at early, and then the rest. Nothing is computed where all is there.
 */
export async function makeShots(shots: readonly Shot[], making: Making): Promise<void> {
  const { folder, size } = making;
  await mkdir(folder, { recursive: true });
  if (shots.length > 1 && size.width * size.height > TOGETHER_BELOW) {
    for (const shot of shots) await makeShots([shot], making);
    return;
  }
  const begun = shots.map((shot): Begun => {
    const frames = missingOf(shot, making);
    const there = (making.onlyOpening ? 1 : shot.frames) - frames.length;
    return { shot, plates: null, frames, done: there, whole: there + 2 * frames.length };
  });
  const opens = ({ shot, frames }: Begun) => frames[0]?.number === openingFrame(shot);
  for (const own of begun.filter(opens)) await drawn(own, 1, making);
  for (const own of begun) {
    await drawn(own, own.frames.length, making);
    own.plates = null;
  }
}

export { SHOTS };
