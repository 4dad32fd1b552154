import { join } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import { type Database, openDatabase } from "../../store/database";
import { type DemoProgress, prepareDemo } from "../demo/demo";
import { sweepIntake } from "../intake/receive";
import { RenderQueue } from "../render/queue";
import { sweepContent } from "../storage/content";
import { clearDataFolder, prepareDataFolder } from "../storage/data-folder";
import { removeBegun, sweepUnfinished } from "../storage/files";
import { lockFolder } from "../storage/lock";
import { dataRoot, projectRoot, StartProblem } from "../storage/roots";

/** What the running server holds. One a process, however many bundles its code is in. */
export interface Application {
  db: Database;
  client: PGlite;
  queue: RenderQueue;
  demo: DemoProgress;
  /** Ends what is under way and closes the database; the process ends after it. */
  close(): Promise<void>;
}

const holder = globalThis as { paleHalo?: Promise<Application> };

/** Removes what killed and interrupted work left, before anything else needs room. */
async function free(folder: string): Promise<void> {
  for (const part of ["renders", "footage", "content"]) await sweepUnfinished(join(folder, part));
  await sweepIntake();
  await sweepContent();
}

async function openIn(folder: string) {
  try {
    return await openDatabase(folder, join(projectRoot(), "src/store/migrations"));
  } catch (error) {
    const reason = ((error as Error).message || String(error)).split("\n")[0];
    throw new StartProblem(
      `the database in ${join(folder, "database")} does not open (${reason}). ` +
        "Put back a copy of that folder, or move it away and start again: footage and renders stay where they are",
    );
  }
}

async function start(): Promise<Application> {
  // What is kept is its owner's alone, whoever else works on this machine.
  process.umask(0o077);
  const folder = dataRoot();
  prepareDataFolder(folder);
  const lock = await lockFolder(folder, "the server");
  if (process.env.HALO_FRESH) clearDataFolder(folder);
  await free(folder);
  const { db, client } = await openIn(folder);
  const { demo, stop: stopDemo } = await prepareDemo(db);
  const queue = new RenderQueue(db, client);
  // The queue takes seconds to start; pages are served meanwhile.
  queue.start();
  const close = async () => {
    await stopDemo();
    await queue.stop();
    removeBegun();
    await client.close();
    await lock.release();
  };
  return { db, client, queue, demo, close };
}

export const application = (): Promise<Application> => (holder.paleHalo ??= start());
