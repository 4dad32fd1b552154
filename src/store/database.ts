import { chmodSync, mkdirSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { drizzle, type PgliteDatabase } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { bringLooksAlong } from "./kept-looks";
import * as schema from "./schema";

export type Database = PgliteDatabase<typeof schema>;

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

/** Opens the embedded database in `folder`, made and migrated as needed. One process at a time may have it open. */
export async function openDatabase(
  folder: string,
  migrationsFolder: string,
): Promise<{ client: PGlite; db: Database }> {
  mkdirSync(folder, { recursive: true, mode: PRIVATE_FOLDER });
  const home = join(folder, "database");
  const client = await PGlite.create(home);
  makePrivate(home);
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder });
  await bringLooksAlong(db);
  return { client, db };
}
