/** Frames of charts that the application computes when they are asked for, to try the Chart room with. */
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { BenchDayOffer } from "../../contract/charts";
import type { Manifest } from "../../core/measure/manifest";
import { BENCH_DAY, benchDayGlass, MANIFEST } from "../../demo/bench-day/bench-day";
import { makeBenchDay } from "../../demo/bench-day/make";
import { notFound } from "../errors/errors";
import { built } from "../../formats/project";
import { dataRoot } from "../storage/roots";

/** Two lenses and two filters. */
const OFFERED = ["orrin-vale-50", "hask-scope-40", "milkglass", "hearth"];
/** One thread, so that whatever else the application does goes on. */
const THREADS = 1;

const batchOf = (id: string) => `${BENCH_DAY}-${id}`;
const folder = () => join(dataRoot(), "intake");
const manifestOf = (id: string) => join(folder(), batchOf(id), MANIFEST);

/** Parts of the server are built apart and would each have a list of their own. */
const holder = globalThis as { paleHaloBenchDay?: Map<string, { done: number; of: number; failed?: string }> };
const making = (holder.paleHaloBenchDay ??= new Map<string, { done: number; of: number; failed?: string }>());

export const benchDayOffers = (): BenchDayOffer[] =>
  OFFERED.map((id) => {
    const { name, format } = benchDayGlass().find((one) => one.id === id)!;
    const isReady = existsSync(manifestOf(id));
    const now = making.get(id);
    const state = isReady ? "ready" : now?.failed ? "failed" : now ? "making" : "offered";
    return {
      id,
      name,
      kind: format === "pale-halo-lens" ? "lens" : "filter",
      batch: batchOf(id),
      state,
      done: now?.done ?? 0,
      of: now?.of ?? 0,
      problem: now?.failed ?? null,
    };
  });

/** Begins to compute what is missing. Throws Refusal where there is no such offer. */
export function beginBenchDay(id: string): void {
  if (!OFFERED.includes(id)) throw notFound(`Bench day of ${id}`);
  if (existsSync(manifestOf(id)) || (making.has(id) && !making.get(id)!.failed)) return;
  making.set(id, { done: 0, of: 0 });
  makeBenchDay({
    ids: [id],
    folderOf: (one) => join(folder(), batchOf(one)),
    program: built("bench-day-worker.mjs"),
    footageProgram: built("demo-worker.mjs"),
    threads: THREADS,
    footage: built("demo-ahead"),
    progress: (_, done, of) => making.set(id, { done, of }),
  }).then(
    () => making.delete(id),
    (error: Error) => making.set(id, { done: 0, of: 0, failed: error.message }),
  );
}

/** What its frames are. Throws Refusal where they are not all there. */
export function benchDayManifest(id: string): Manifest {
  if (!OFFERED.includes(id) || !existsSync(manifestOf(id))) throw notFound(`Bench day of ${id}`);
  return JSON.parse(readFileSync(manifestOf(id), "utf8")) as Manifest;
}
