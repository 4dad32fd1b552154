/** How fast the queue itself is: simulated workers on frames of no work, on a PostgreSQL server. */
import { randomBytes } from "node:crypto";
import { rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { sql } from "drizzle-orm";
import { Client } from "pg";
import { ENGINE_VERSION } from "../../core/engine/version";
import { framesIn, type Ranges } from "../../core/frame/ranges";
import { lookSchema } from "../../core/look/look";
import { portionsOf } from "./queue";
import { projectRoot } from "../../formats/project";
import { StartProblem } from "../storage/roots";
import { type Database, openServerDatabase } from "../../store/database";
import {
  beat,
  commitFrames,
  endPortion,
  endRender,
  type FrameResult,
  framesMade,
  leasePortion,
  type NewWorker,
} from "../../store/farm";
import { addRender, findRender, moveRender } from "../../store/queries";

export interface FarmFigures {
  workers: number;
  frames: number;
  portions: number;
  seconds: number;
  framesPerSecond: number;
  /** The most that the server had at once. */
  connections: number;
  /** Portions that were leased more than once: there must be none. */
  leasedAgain: number;
}

const MAX_CONNECTIONS = 40;
const BEATS_EVERY_MS = 1000;
const COUNTS_EVERY_MS = 200;
/** An idle worker asks again after so long, ms. */
const ASKS_EVERY_MS = 500;

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

interface Server {
  url: string;
  stop(): Promise<void>;
}

/** The server at DATABASE_URL, or one of its own, whose data goes with it. */
async function serverFor(address: string | undefined): Promise<Server> {
  if (address) return { url: address, stop: () => Promise.resolve() };
  const folder = join(tmpdir(), `pale-halo-bench-${randomBytes(4).toString("hex")}`);
  const script = pathToFileURL(join(projectRoot(), "scripts/postgres.mjs")).href;
  const { startPostgres } = (await import(script)) as { startPostgres(folder: string): Promise<Server> };
  try {
    const { url, stop } = await startPostgres(folder);
    return {
      url,
      async stop() {
        await stop();
        for (const path of [folder, `${folder}.password`]) rmSync(path, { recursive: true, force: true });
      },
    };
  } catch (error) {
    throw new StartProblem(
      `--farm: PostgreSQL does not start here (${(error as Error).message}); name one: DATABASE_URL`,
    );
  }
}

/** Has work done in a database that is made for it on a server, and removed after. */
async function inOwnDatabase<T>(url: string, work: (url: string, client: Client) => Promise<T>): Promise<T> {
  const name = `pale_halo_bench_${randomBytes(4).toString("hex")}`;
  const client = new Client({ connectionString: url });
  await client.connect();
  await client.query(`create database ${name}`);
  try {
    const own = new URL(url);
    own.pathname = `/${name}`;
    return await work(own.href, client);
  } finally {
    await client.query(`drop database ${name} with (force)`);
    await client.end();
  }
}

const result = (frame: number): FrameResult => ({
  ...{ frame, file: `f.${frame}.png`, recipe: "none", bytes: 1, sha256: "0".repeat(64), reason: null },
});

/** A worker whose frames take no time: it asks the database as often as one that makes them. */
async function simulate(db: Database, number: number, isDone: () => boolean): Promise<number> {
  const self: NewWorker = {
    ...{ id: `worker-${number}`, name: `worker ${number}`, host: "here", pid: number },
    ...{ program: "bench", engine: ENGINE_VERSION },
  };
  let frames = 0;
  const beats = (async () => {
    await pause((number % 100) * (BEATS_EVERY_MS / 100));
    for (; !isDone(); await pause(BEATS_EVERY_MS)) await beat(db, self, { renderId: 1, frames, framesPerSecond: null });
  })();
  let again = 0;
  while (!isDone()) {
    const portion = await leasePortion(db, self);
    if (portion?.kind === "close") {
      await endRender(db, portion.renderId);
      await endPortion(db, portion, self.id, null);
      break;
    }
    if (!portion) {
      await pause(ASKS_EVERY_MS);
      continue;
    }
    if (portion.attempts > 1) again++;
    await framesMade(db, portion.renderId, portion.frames);
    const results = [...framesIn(portion.frames)].map(result);
    await commitFrames(db, portion, self.id, results);
    await endPortion(db, portion, self.id, { input: [], plates: [] });
    frames += results.length;
  }
  await beats;
  return again;
}

/** Times the queue. Throws StartProblem where there is no PostgreSQL. */
export async function timeFarm(workers: number, frames: number): Promise<FarmFigures> {
  const server = await serverFor(process.env.DATABASE_URL?.trim());
  try {
    return await inOwnDatabase(server.url, async (url, client) => {
      const { db, pool } = await openServerDatabase(url, join(projectRoot(), "src/store/migrations"), {
        max: MAX_CONNECTIONS - 1,
      });
      const all: Ranges = [[1, frames]];
      const look = lookSchema.parse({ format: "pale-halo-look", version: 1, name: "None", elements: [] });
      const order = { shotId: "bench", versionName: "bench", look, format: "png", depth: "8" as const, frames: all };
      const parts = portionsOf(order);
      const { id } = await addRender(db, { ...order, engine: ENGINE_VERSION }, parts);
      await moveRender(db, id, ["queued"], { state: "running", started: new Date() });
      let isDone = false;
      let connections = 0;
      const name = new URL(url).pathname.slice(1);
      const watching = (async () => {
        for (; !isDone; await pause(COUNTS_EVERY_MS)) {
          const text = "select count(*)::int as count from pg_stat_activity where datname = $1";
          const { rows } = await client.query<{ count: number }>(text, [name]);
          // And the one that counts.
          connections = Math.max(connections, rows[0]!.count + 1);
          const render = await findRender(db, id);
          isDone = render!.state === "done";
        }
      })();
      const start = performance.now();
      const again = await Promise.all(Array.from({ length: workers }, (_, i) => simulate(db, i + 1, () => isDone)));
      const seconds = (performance.now() - start) / 1000;
      await watching;
      const counted = await db.select({ count: sql<number>`count(*)::int` }).from(sql`rendered_frames`);
      await pool.end();
      if (counted[0]!.count !== frames) throw new Error(`${counted[0]!.count} of ${frames} frames were entered`);
      return {
        ...{ workers, frames, portions: parts.length, seconds: Number(seconds.toFixed(1)) },
        framesPerSecond: Math.round(frames / seconds),
        ...{ connections, leasedAgain: again.reduce((sum, one) => sum + one, 0) },
      };
    });
  } finally {
    await server.stop();
  }
}
