import type { Database } from "../../store/database";
import { type Demo, prepareDemo } from "../seed/demo";
import { releaseAll } from "../../store/farm";
import { bringRendersAlong, type RenderQueue, renderQueue } from "../farm/queue";
import { startWorker } from "../farm/worker";
import { removeBegun } from "../storage/files";
import { serveCopies } from "../storage/snapshot";
import { openData } from "./open";

/** What the running server holds. One a process, however many bundles its code is in. */
export interface Application {
  db: Database;
  queue: RenderQueue;
  demo: Demo;
  /** Ends what is under way and closes the database; the process ends after it. */
  close(): Promise<void>;
}

/** Where nobody else can queue anything the worker is told of it, and need not ask, ms. */
const ALONE = { asks: 5000 };

const holder = globalThis as { paleHalo?: Promise<Application> };

async function start(): Promise<Application> {
  const data = await openData("the server", { clears: true, waits: true, fresh: Boolean(process.env.HALO_FRESH) });
  const { db, copy } = data;
  const copies = copy && (await serveCopies(data.folder, copy));
  const demo = await prepareDemo(db, process.env.HALO_DEMO !== "no");
  // What a killed server had in hand is taken up at once where nobody else can have it.
  if (copy) await releaseAll(db);
  await bringRendersAlong(db);
  // Without others to leave them to it makes renders whatever is said.
  const isLeft = copy === null && process.env.HALO_RENDERS === "elsewhere";
  const worker = isLeft
    ? null
    : startWorker(db, { name: "the application", stays: true, ...(copy ? { rhythm: ALONE } : {}) });
  worker?.ended.catch((error: Error) => console.error(`Renders are not made any more: ${error.message}`));
  const queue = renderQueue(db, worker?.nudge);
  const close = async () => {
    await Promise.all([demo.stop(), worker?.stop(0)]);
    removeBegun();
    copies?.end();
    await data.close();
  };
  return { db, queue, demo, close };
}

export const application = (): Promise<Application> => (holder.paleHalo ??= start());
