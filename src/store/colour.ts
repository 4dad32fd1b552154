import { createHash } from "node:crypto";
import { asc, eq } from "drizzle-orm";
import type { OwnEncoding } from "../core/colour/own-encoding";
import type { Database } from "./database";
import { type EncodingBody, encodings, shots, tables } from "./schema/schema";

/**
 * Encodings the user made, and tables that views are seen through. Their texts are large, and read only where they are
 * asked for.
 */

const digestOf = (...parts: string[]) => {
  const hash = createHash("sha256");
  for (const part of parts) hash.update(part).update("\0");
  return hash.digest("hex").slice(0, 24);
};

export const listEncodings = (db: Database): Promise<{ id: string; name: string; body: EncodingBody }[]> =>
  db
    .select({ id: encodings.id, name: encodings.name, body: encodings.body })
    .from(encodings)
    .orderBy(asc(encodings.name));

/** An encoding without its table's text; `digest` changes when what it does changes. */
export async function findEncodingBody(
  db: Database,
  id: string,
): Promise<{ body: EncodingBody; digest: string } | undefined> {
  const [row] = await db
    .select({ body: encodings.body, digest: encodings.digest })
    .from(encodings)
    .where(eq(encodings.id, id));
  return row;
}

/** An encoding whole. */
export async function findOwnEncoding(db: Database, id: string): Promise<OwnEncoding | undefined> {
  const [row] = await db.select().from(encodings).where(eq(encodings.id, id));
  return row && (row.body.kind === "log" ? row.body : { ...row.body, text: row.tableText ?? "" });
}

export async function putEncoding(db: Database, own: OwnEncoding): Promise<void> {
  const { id, name } = own;
  let body: EncodingBody = own;
  let tableText: string | null = null;
  if (own.kind === "table") ({ text: tableText, ...body } = own);
  const values = { name, body, tableText, digest: digestOf(JSON.stringify(body), tableText ?? "") };
  await db
    .insert(encodings)
    .values({ id, ...values })
    .onConflictDoUpdate({ target: encodings.id, set: values });
}

export const removeEncoding = (db: Database, id: string) => db.delete(encodings).where(eq(encodings.id, id));

export const shotsIn = (db: Database, encoding: string) =>
  db.select({ id: shots.id }).from(shots).where(eq(shots.encoding, encoding));

export type ViewTable = typeof tables.$inferSelect;
/** A table as it is listed: without its text. */
export type ListedTable = Pick<ViewTable, "id" | "name" | "file">;

export const listTables = (db: Database): Promise<ListedTable[]> =>
  db.select({ id: tables.id, name: tables.name, file: tables.file }).from(tables).orderBy(asc(tables.name));

export async function findTable(db: Database, id: string): Promise<ViewTable | undefined> {
  const [row] = await db.select().from(tables).where(eq(tables.id, id));
  return row;
}

export async function putTable(db: Database, { id, name, file, text }: Omit<ViewTable, "created" | "digest">) {
  const values = { name, file, text, digest: digestOf(file, text) };
  await db
    .insert(tables)
    .values({ id, ...values })
    .onConflictDoUpdate({ target: tables.id, set: values });
}

export const removeTable = (db: Database, id: string) => db.delete(tables).where(eq(tables.id, id));
