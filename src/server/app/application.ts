import type { PGlite } from "@electric-sql/pglite";
import type { Database } from "../../store/database";
import { type Demo, prepareDemo } from "../seed/demo";
import { RenderQueue } from "../render/queue";
import { removeBegun } from "../storage/files";
import { serveCopies } from "../storage/snapshot";
import { openData } from "./open";

/** What the running server holds. One a process, however many bundles its code is in. */
export interface Application {
  db: Database;
  client: PGlite;
  queue: RenderQueue;
  demo: Demo;
  /** Ends what is under way and closes the database; the process ends after it. */
  close(): Promise<void>;
}

const holder = globalThis as { paleHalo?: Promise<Application> };

async function start(): Promise<Application> {
  const data = await openData("the server", { clears: true, fresh: Boolean(process.env.HALO_FRESH) });
  const { db, client } = data;
  const copies = await serveCopies(data.folder, () => client.dumpDataDir("none"));
  const demo = await prepareDemo(db, process.env.HALO_DEMO !== "no");
  const queue = new RenderQueue(db, client);
  // The queue takes seconds to start; pages are served meanwhile.
  queue.start();
  const close = async () => {
    await Promise.all([demo.stop(), queue.stop()]);
    removeBegun();
    copies.end();
    await data.close();
  };
  return { db, client, queue, demo, close };
}

export const application = (): Promise<Application> => (holder.paleHalo ??= start());
