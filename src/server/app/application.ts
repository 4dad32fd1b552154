import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import { type Database, openDatabase } from "../../store/database";
import { dataRoot, projectRoot } from "../root";
import { type DemoProgress, prepareDemo } from "../demo/demo";
import { sweep } from "../intake/receive";
import { RenderQueue } from "../render/queue";

/** What the running server holds. One a process, however many bundles its code is in. */
export interface Application {
  db: Database;
  client: PGlite;
  queue: RenderQueue;
  demo: DemoProgress;
}

const holder = globalThis as { paleHalo?: Promise<Application> };

async function start(): Promise<Application> {
  // The embedded database takes one process; this tells a second start who has it.
  mkdirSync(dataRoot(), { recursive: true });
  writeFileSync(join(dataRoot(), "server.pid"), String(process.pid));
  const { db, client } = await openDatabase(dataRoot(), join(projectRoot(), "src/store/migrations"));
  await sweep();
  const demo = await prepareDemo(db);
  const queue = new RenderQueue(db, client);
  // The queue takes seconds to start; pages are served meanwhile.
  queue.start();
  return { db, client, queue, demo };
}

export const application = (): Promise<Application> => (holder.paleHalo ??= start());
