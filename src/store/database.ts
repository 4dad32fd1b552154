import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { drizzle, type PgliteDatabase } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import * as schema from "./schema";

export type Database = PgliteDatabase<typeof schema>;

/** Opens the embedded database in `folder`, made and migrated as needed. */
export async function openDatabase(
  folder: string,
  migrationsFolder: string,
): Promise<{ client: PGlite; db: Database }> {
  mkdirSync(folder, { recursive: true });
  const client = await PGlite.create(join(folder, "database"));
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder });
  return { client, db };
}
