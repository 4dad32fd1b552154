import { existsSync } from "node:fs";
import { mkdir } from "node:fs/promises";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { SHOTS } from "./scenes/shots";
import type { Shot } from "./scenes/shot";
import type { Task } from "./worker";

export const DEMO_SIZE = { width: 1280, height: 720 };
/** Rows of plates in a task: small enough that threads end together. */
const TRACE_ROWS = 8;

export const extensionOf = ({ delivered }: Pick<Shot, "delivered">) => (delivered === "log" ? "dpx" : "exr");

export const frameFile = (folder: string, shot: Pick<Shot, "id" | "delivered">, number: number) =>
  join(folder, `${shot.id}.${String(number).padStart(4, "0")}.${extensionOf(shot)}`);

/** Computes one shot into `folder`; frames that are there are left. `program`: the built worker. `signal` ends it. */
export async function makeShot(
  shot: Shot,
  folder: string,
  size: { width: number; height: number },
  program: string,
  threads: number,
  progress: (done: number, of: number) => void,
  signal?: AbortSignal,
): Promise<void> {
  await mkdir(folder, { recursive: true });
  const missing = Array.from({ length: shot.frames }, (_, i) => i + 1).filter(
    (number) => !existsSync(frameFile(folder, shot, number)),
  );
  if (!missing.length) return;
  const plates = shot.plates(size.width, size.height);
  const traces: Task[] = [];
  for (let y0 = 0; y0 < plates.height; y0 += TRACE_ROWS)
    traces.push({ kind: "trace", y0, y1: Math.min(plates.height, y0 + TRACE_ROWS) });
  const frames: Task[] = missing.map((number) => ({ kind: "frame", number, path: frameFile(folder, shot, number) }));
  const workers = Array.from(
    { length: threads },
    () => new Worker(program, { workerData: { shotId: shot.id, plates, ...size } }),
  );
  // Plates and frames are about equal work, which is what the progress counts.
  const whole = 2 * frames.length;
  const weight = { trace: frames.length / traces.length, frame: 1 };
  let done = 0;
  const perform = (tasks: Task[]) =>
    Promise.all(
      workers.map(
        (worker) =>
          new Promise<void>((resolve, reject) => {
            const next = () => {
              const task = tasks.shift();
              if (!task) {
                worker.off("message", next).off("error", reject);
                resolve();
                return;
              }
              if (signal?.aborted) return reject(signal.reason as Error);
              worker.postMessage(task);
              done += weight[task.kind];
              progress(Math.min(done, whole), whole);
            };
            worker.on("message", next).on("error", reject);
            next();
          }),
      ),
    );
  try {
    await perform(traces);
    await perform(frames);
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
}

export { SHOTS };
