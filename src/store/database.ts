import { chmodSync, cpSync, existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync } from "node:fs";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { sql } from "drizzle-orm";
import { drizzle as drizzlePool } from "drizzle-orm/node-postgres";
import { migrate as migrateServer } from "drizzle-orm/node-postgres/migrator";
import { drizzle } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { Pool, type PoolClient } from "pg";
import type { Database } from "./handle";
import { bringLooksAlong } from "./kept-looks";
import * as schema from "./schema/schema";

export type { Database } from "./handle";

const PRIVATE_FOLDER = 0o700;
const PRIVATE_FILE = 0o600;

/** A new database is unpacked with rights for everybody; what it writes later is its owner's alone. */
function makePrivate(folder: string): void {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    chmodSync(path, entry.isDirectory() ? PRIVATE_FOLDER : PRIVATE_FILE);
    if (entry.isDirectory()) makePrivate(path);
  }
}

/** A database that a newer version of the program has changed: this one would lose what it does not know. */
export class NewerDatabase extends Error {}

interface Journal {
  entries: { when: number }[];
}

/** Throws NewerDatabase where a migration has been made that is none of ours. `ask`: gives a query's rows. */
async function refuseNewer(
  ask: (text: string) => Promise<{ rows: unknown[] }>,
  migrationsFolder: string,
): Promise<void> {
  const journal = JSON.parse(readFileSync(join(migrationsFolder, "meta", "_journal.json"), "utf8")) as Journal;
  const newest = Math.max(...journal.entries.map(({ when }) => when));
  const { rows } = await ask("select max(created_at)::text as made from drizzle.__drizzle_migrations").catch(() => ({
    rows: [],
  }));
  const [found] = rows as { made: string | null }[];
  if (Number(found?.made ?? 0) > newest) throw new NewerDatabase("it was made by a newer version of Pale Halo");
}

const NAME = "database";

/** Begins a database as a copy of an empty one; there all at once, or not at all. */
function copyEmpty(empty: string, home: string): void {
  const unfinished = `${home}.part`;
  rmSync(unfinished, { recursive: true, force: true });
  cpSync(empty, unfinished, { recursive: true });
  renameSync(unfinished, home);
}

/**
 * Opens the embedded database in `folder`, made and migrated as needed. One process at a time may have it open.
 * `template`: a folder with an empty database, which a new one begins as a copy of, where it is there.
 */
export async function openDatabase(
  folder: string,
  migrationsFolder: string,
  template?: string,
): Promise<{ client: PGlite; db: Database }> {
  mkdirSync(folder, { recursive: true, mode: PRIVATE_FOLDER });
  const home = join(folder, NAME);
  const empty = template && join(template, NAME);
  if (empty && existsSync(/*turbopackIgnore: true*/ empty) && !existsSync(home)) copyEmpty(empty, home);
  const client = await PGlite.create(home);
  makePrivate(home);
  try {
    await refuseNewer((text) => client.query(text), migrationsFolder);
  } catch (error) {
    await client.close();
    throw error;
  }
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder });
  await bringLooksAlong(db);
  return { client, db };
}

/** Of one process; a farm has many, and a server takes about a hundred. */
const MAX_CONNECTIONS = 8;
const CONNECTS_WITHIN_MS = 10_000;
/** Names the lock under which one process at a time migrates. */
const MIGRATION_LOCK = 0x70616c65;

/** A server that is started anew refuses, or says that it starts or ends (57P03, 57P01). */
const COMES_BACK = ["ECONNREFUSED", "ECONNRESET", "57P03", "57P01"];
const COMES_BACK_WITHIN_MS = 20_000;
const ASKS_AGAIN_AFTER_MS = 500;

/** A connection; `waits`: a server that is started anew is waited for. */
async function connected(pool: Pool, waits: boolean): Promise<PoolClient> {
  for (let waited = 0; ; waited += ASKS_AGAIN_AFTER_MS) {
    try {
      return await pool.connect();
    } catch (error) {
      const { code } = error as { code?: string };
      if (!waits || !COMES_BACK.includes(code ?? "") || waited >= COMES_BACK_WITHIN_MS) throw error;
      await new Promise((resolve) => setTimeout(resolve, ASKS_AGAIN_AFTER_MS));
    }
  }
}

/**
 * Opens a database on a PostgreSQL server, migrated as needed: one process at a time does that, others wait for it.
 * `max`: connections at once. `waits`: a server that is started anew is waited for.
 */
export async function openServerDatabase(
  url: string,
  migrationsFolder: string,
  { max = MAX_CONNECTIONS, waits = false } = {},
): Promise<{ pool: Pool; db: Database }> {
  const pool = new Pool({ connectionString: url, max, connectionTimeoutMillis: CONNECTS_WITHIN_MS });
  // A connection that breaks while nobody uses it is replaced when one is needed.
  pool.on("error", () => {});
  try {
    const client = await connected(pool, waits);
    try {
      const db = drizzlePool(client, { schema });
      await db.execute(sql`select pg_advisory_lock(${MIGRATION_LOCK})`);
      await refuseNewer((text) => client.query(text), migrationsFolder);
      await migrateServer(db, { migrationsFolder });
      await bringLooksAlong(db);
      await db.execute(sql`select pg_advisory_unlock(${MIGRATION_LOCK})`);
    } finally {
      // With the connection goes the lock, whatever happened.
      client.release(true);
    }
  } catch (error) {
    await pool.end();
    throw error;
  }
  return { pool, db: drizzlePool(pool, { schema }) };
}

/** A copy of a database, in memory: what is written to it is gone when it is closed. */
export async function openCopy(archive: Blob): Promise<{ client: PGlite; db: Database }> {
  const client = await PGlite.create({ loadDataDir: archive });
  return { client, db: drizzle(client, { schema }) };
}
