import { and, asc, count, desc, eq, getTableColumns, sql } from "drizzle-orm";
import type { Look } from "../core/look/look";
import { summaryOf } from "../core/look/summary";
import type { Database } from "./database";
import { library, stills } from "./schema/schema";

export type LibraryLook = typeof library.$inferSelect;
export type Still = typeof stills.$inferSelect;
/** A still as it is listed: without its look. */
export type ListedStill = Omit<Still, "look" | "summary">;

const { look: _, summary: __, ...listed } = getTableColumns(stills);

export const listLibrary = (db: Database) =>
  db
    .select({ id: library.id, summary: library.summary, revision: library.revision, madeBy: library.madeBy })
    .from(library)
    .orderBy(asc(library.created));

export async function countLibrary(db: Database): Promise<number> {
  const [row] = await db.select({ number: count() }).from(library);
  return row!.number;
}

export async function findLibraryLook(db: Database, id: string): Promise<LibraryLook | undefined> {
  const [row] = await db.select().from(library).where(eq(library.id, id));
  return row;
}

export async function keepLibraryLook(
  db: Database,
  id: string,
  body: Look,
  madeBy: string | null,
): Promise<LibraryLook> {
  const [row] = await db
    .insert(library)
    .values({ id, body, madeBy, summary: summaryOf(body) })
    .returning();
  return row!;
}

/** Puts another body in place of the one of `revision`; undefined where another stands there by now. */
export async function changeLibraryLook(
  db: Database,
  id: string,
  body: Look,
  revision: number,
): Promise<LibraryLook | undefined> {
  const [row] = await db
    .update(library)
    .set({ body, summary: summaryOf(body), revision: revision + 1 })
    .where(and(eq(library.id, id), eq(library.revision, revision)))
    .returning();
  return row;
}

export const removeLibraryLook = (db: Database, id: string) =>
  db.delete(library).where(eq(library.id, id)).returning({ id: library.id });

/** Stills of all shots, the newest first. */
export const listStills = (db: Database): Promise<ListedStill[]> =>
  db.select(listed).from(stills).orderBy(desc(stills.id));

export async function findStill(db: Database, id: number): Promise<Still | undefined> {
  const [row] = await db.select().from(stills).where(eq(stills.id, id));
  return row;
}

/** A still with its look as JSON. */
export async function findStillText(db: Database, id: number): Promise<(ListedStill & { text: string }) | undefined> {
  const [row] = await db
    .select({ ...listed, text: sql<string>`${stills.look}::text` })
    .from(stills)
    .where(eq(stills.id, id));
  return row;
}

export async function addStill(db: Database, values: typeof stills.$inferInsert): Promise<ListedStill> {
  const [row] = await db
    .insert(stills)
    .values({ ...values, summary: summaryOf(values.look) })
    .returning(listed);
  return row!;
}

export async function noteStill(db: Database, id: number, note: string): Promise<ListedStill | undefined> {
  const [row] = await db.update(stills).set({ note }).where(eq(stills.id, id)).returning(listed);
  return row;
}

export const removeStill = (db: Database, id: number) =>
  db.delete(stills).where(eq(stills.id, id)).returning({ id: stills.id });

export const stillsOf = (db: Database, shotId: string): Promise<ListedStill[]> =>
  db.select(listed).from(stills).where(eq(stills.shotId, shotId));
