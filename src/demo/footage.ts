import { existsSync } from "node:fs";
import { mkdir, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { SHOTS } from "./scenes/shots";
import type { DemoShot } from "./scenes/shot";
import type { Plates } from "./render/picture";
import { packPlates } from "./plates-file";
import { type Asked, nextStep, type ShotWork, type WorkItem } from "./work-order";
import type { Task, ThreadData, Told } from "./worker";

export const DEMO_SIZE = { width: 1280, height: 720 };
/** Rows of plates in a task: small enough that threads end together. */
const TRACE_ROWS = 8;

export const extensionOf = ({ delivered }: Pick<DemoShot, "delivered">) => (delivered === "log" ? "dpx" : "exr");

export const frameFile = (folder: string, shot: Pick<DemoShot, "id" | "delivered">, number: number) =>
  join(/*turbopackIgnore: true*/ folder, `${shot.id}.${String(number).padStart(4, "0")}.${extensionOf(shot)}`);

/** A shot's plates, as a file (plates-file). */
export const platesFile = (folder: string, { id }: Pick<DemoShot, "id">) => join(folder, `${id}.plates`);

/**
 * Plates of several shots are held at once for frames of up to so many pixels; larger shots are made one after another.
 */
const TOGETHER_BELOW = 2 ** 21;

/** The frame a shot opens on: a third of the way through. */
export const openingFrame = ({ frames }: Pick<DemoShot, "frames">) => Math.floor(frames / 3) + 1;

export interface Making {
  /** Where frames go. */
  folder: string;
  size: { width: number; height: number };
  /** The built worker. */
  program: string;
  threads: number;
  /** Only the frame each shot opens on. */
  onlyOpening?: boolean;
  /** A folder with plates of shots that were traced before. */
  platesIn?: string;
  /** Where plates that are traced are kept. */
  keepPlatesIn?: string;
  /** Whether the threads give way to whatever else runs here. */
  givesWay?: boolean;
  /** Frames that are asked for while others are made, the newest first. */
  asked?(): readonly Asked[];
  /** `done` of `of` frames' work; a frame that was drawn by its number. */
  progress(shot: DemoShot, done: number, of: number, drawn?: number): void;
  signal?: AbortSignal;
}

/** A shot that is being made. */
interface Begun {
  shot: DemoShot;
  work: ShotWork;
  plates: Plates | null;
  /** Bands of its plates, and how many are not traced yet, whoever does them. */
  bands: number;
  untraced: number;
  /** Frames that were missing, and how many are not drawn yet. */
  missing: number;
  undrawn: number;
  /** In frames; plates count as much as drawing all that is missing. */
  done: number;
  whole: number;
}

/** Frames of a shot that are not there. */
function missingOf(shot: DemoShot, { folder, onlyOpening }: Making): number[] {
  const all = onlyOpening ? [openingFrame(shot)] : Array.from({ length: shot.frames }, (_, i) => i + 1);
  return all.filter((number) => !existsSync(/*turbopackIgnore: true*/ frameFile(folder, shot, number)));
}

function begin(shot: DemoShot, making: Making): Begun {
  const { size, platesIn, onlyOpening } = making;
  const frames = missingOf(shot, making);
  const hasFile = platesIn !== undefined && existsSync(platesFile(platesIn, shot));
  const there = (onlyOpening ? 1 : shot.frames) - frames.length;
  const begun: Begun = {
    shot,
    work: {
      shotId: shot.id,
      plates: "file",
      isReading: false,
      bands: [],
      opening: openingFrame(shot),
      frames,
    },
    plates: null,
    bands: 0,
    untraced: 0,
    missing: frames.length,
    undrawn: frames.length,
    done: there,
    whole: there + 2 * frames.length,
  };
  if (!hasFile && frames.length) beginTracing(begun, size);
  return begun;
}

/** Has a shot's plates traced. */
function beginTracing(begun: Begun, { width, height }: Making["size"]): void {
  begun.plates = begun.shot.plates(width, height);
  const bands = Array.from({ length: Math.ceil(begun.plates.height / TRACE_ROWS) }, (_, i) => i * TRACE_ROWS);
  Object.assign(begun, { bands: bands.length, untraced: bands.length });
  Object.assign(begun.work, { plates: "missing", bands });
}

/** Takes a step off what is left, and makes a thread's task of it. */
function taskFor(step: WorkItem, begun: Begun, { folder, platesIn }: Making): Task {
  const { shot, work } = begun;
  const shotId = shot.id;
  if (step.kind === "read") {
    work.isReading = true;
    return { kind: "read", shotId, path: platesFile(platesIn!, shot) };
  }
  const plates = begun.plates!;
  if (step.kind === "trace") {
    work.bands = work.bands.filter((band) => band !== step.band);
    return { kind: "trace", shotId, plates, y0: step.band, y1: Math.min(plates.height, step.band + TRACE_ROWS) };
  }
  work.frames = work.frames.filter((number) => number !== step.number);
  return { kind: "frame", shotId, plates, number: step.number, path: frameFile(folder, shot, step.number) };
}

/** Takes notice of what a thread did. */
async function settle(begun: Begun, task: Task, { plates }: Told, making: Making): Promise<void> {
  const { shot, work } = begun;
  const advance = (by: number, drawn?: number) => {
    begun.done += by;
    making.progress(shot, Math.min(begun.done, begun.whole), begun.whole, drawn);
  };
  if (task.kind === "read") {
    work.isReading = false;
    // What cannot be read is traced.
    if (!plates) return beginTracing(begun, making.size);
    work.plates = "ready";
    begun.plates = plates;
    advance(begun.missing);
  } else if (task.kind === "trace") {
    begun.untraced--;
    advance(begun.missing / begun.bands);
    if (begun.untraced > 0) return;
    work.plates = "ready";
    if (making.keepPlatesIn)
      await writeFile(platesFile(making.keepPlatesIn, shot), await packPlates(begun.plates!, making.size));
  } else {
    begun.undrawn--;
    if (begun.undrawn === 0) begun.plates = null;
    advance(1, task.number);
  }
}

/**
 * Threads that do what comes next, until nothing is left. A thread that finds nothing to do waits for what another one
 * does.
 */
async function perform(all: Begun[], making: Making): Promise<void> {
  const { size, program, signal, givesWay = false, threads } = making;
  const workerData: ThreadData = { ...size, givesWay };
  const workers = Array.from({ length: threads }, () => new Worker(program, { workerData }));
  const idle: (() => void)[] = [];
  const wakeAll = () => {
    for (const wake of idle.splice(0)) wake();
  };
  const isDone = () => all.every(({ undrawn }) => undrawn === 0);
  const ask = (worker: Worker, task: Task) =>
    new Promise<Told>((resolve, reject) => {
      const end = (settled: () => void) => {
        worker.off("message", told).off("error", failed);
        settled();
      };
      const told = (answer: Told) => end(() => resolve(answer));
      const failed = (error: Error) => end(() => reject(error));
      worker.on("message", told).on("error", failed);
      worker.postMessage(task);
    });
  const work = async (worker: Worker) => {
    while (!isDone()) {
      signal?.throwIfAborted();
      const step = nextStep(
        all.map((begun) => begun.work),
        making.asked?.() ?? [],
      );
      if (!step) {
        await new Promise<void>((resolve) => idle.push(resolve));
        continue;
      }
      const begun = all.find(({ shot }) => shot.id === step.shotId)!;
      const task = taskFor(step, begun, making);
      await settle(begun, task, await ask(worker, task), making);
      wakeAll();
    }
  };
  try {
    await Promise.all(workers.map((worker) => work(worker).finally(wakeAll)));
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
}

/**
 * Computes shots into a folder; frames that are there are left. First what is asked for, then the frame each shot opens
 * on, so that something of all of them can be looked at early, then the rest. Nothing is computed where all is there.
 */
export async function makeShots(shots: readonly DemoShot[], making: Making): Promise<void> {
  const { folder, size } = making;
  await mkdir(folder, { recursive: true });
  if (shots.length > 1 && size.width * size.height > TOGETHER_BELOW) {
    for (const shot of shots) await makeShots([shot], making);
    return;
  }
  const all = shots.map((shot) => begin(shot, making)).filter(({ undrawn }) => undrawn > 0);
  if (all.length) await perform(all, making);
}

export { SHOTS };
