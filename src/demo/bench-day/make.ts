import { existsSync } from "node:fs";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { DEMO_SIZE, frameFile, makeShots, openingFrame, SHOTS } from "../footage";
import { benchDayGlass, MANIFEST } from "./bench-day";
import type { BenchDayOrder, BenchDayTold } from "./worker";

/** The scene that filters are held before: a night of lamps. */
const SCENE = SHOTS.find(({ id }) => id === "TL-030")!;

export interface MakingBenchDay {
  /** Lenses and filters, by their ids. */
  ids: readonly string[];
  /** Where those of one go. */
  folderOf(id: string): string;
  /** The built workers: of these frames, and of footage. */
  program: string;
  footageProgram: string;
  threads: number;
  /** Where the scene's frame may lie already. */
  footage?: string;
  progress(id: string, done: number, of: number): void;
  signal?: AbortSignal;
}

const run = (
  program: string,
  order: BenchDayOrder,
  { progress, signal }: Pick<MakingBenchDay, "progress" | "signal">,
): Promise<void> =>
  new Promise((resolve, reject) => {
    const worker = new Worker(program, { workerData: order });
    const stop = () => void worker.terminate();
    signal?.addEventListener("abort", stop, { once: true });
    worker.on("message", ({ done, of }: BenchDayTold) => progress(order.id, done, of));
    worker.on("error", reject);
    worker.on("exit", (code) => {
      signal?.removeEventListener("abort", stop);
      if (code === 0) resolve();
      else reject(signal?.aborted ? signal.reason : new Error(`The frames of ${order.id} could not be computed`));
    });
  });

const isFilter = (id: string) => benchDayGlass().some((one) => one.id === id && one.format === "pale-halo-filter");

/** Computes what is missing of Bench day. Whole where a lens's or filter's manifest is there. */
export async function makeBenchDay(making: MakingBenchDay): Promise<void> {
  const { ids, folderOf, program, footageProgram, threads, footage, signal } = making;
  const missing = ids.filter((id) => !existsSync(join(folderOf(id), MANIFEST)));
  if (!missing.length) return;
  const number = openingFrame(SCENE);
  const there = footage && frameFile(footage, SCENE, number);
  const isThere = Boolean(there && existsSync(there));
  const wantsScene = missing.some(isFilter) && !isThere;
  const own = wantsScene ? await mkdtemp(join(tmpdir(), "halo-scene-")) : null;
  try {
    if (own)
      await makeShots([SCENE], {
        folder: own,
        size: DEMO_SIZE,
        program: footageProgram,
        threads,
        onlyOpening: true,
        progress: () => {},
        signal,
      });
    const path = own ? frameFile(own, SCENE, number) : there;
    const scene = path ? { path, sensor: SCENE.sensor } : null;
    const queue = [...missing];
    const work = async () => {
      for (let id = queue.shift(); id; id = queue.shift()) {
        signal?.throwIfAborted();
        await run(program, { id, folder: folderOf(id), scene }, making);
      }
    };
    await Promise.all(Array.from({ length: Math.min(threads, missing.length) }, work));
  } finally {
    if (own) await rm(own, { recursive: true, force: true });
  }
}
