import { eq, isNull, sql } from "drizzle-orm";
import { type Look, lookSchema } from "../core/look/look";
import type { Database } from "./handle";
import { type LookSummary, summaryOf } from "../core/look/summary";
import { library, looks, renders, stills, versions } from "./schema/schema";

/** Looks of each kind, with what they belong to, and how one is written again. */
const KEPT = [
  { table: looks, id: looks.shotId, look: looks.body, written: (body: Look) => ({ body }) },
  { table: versions, id: versions.id, look: versions.body, written: (body: Look) => ({ body }) },
  { table: library, id: library.id, look: library.body, written: (body: Look) => ({ body }) },
  { table: stills, id: stills.id, look: stills.look, written: (look: Look) => ({ look }) },
  { table: renders, id: renders.id, look: renders.look, written: (look: Look) => ({ look }) },
];

/** What is told of something that is no look: it stays as it is. */
const unreadable = (kept: Partial<Look> | null): LookSummary => ({
  name: String(kept?.name ?? ""),
  purpose: null,
  tags: [],
  view: { kind: "plain", display: "srgb", lutInput: "acescct" },
  table: null,
  shots: [],
  glass: [],
});

/**
 * Brings looks that an earlier version kept along when the database is opened, where SQL cannot: areas get ids, curves
 * are drawn, what was left out gets its default. Those it has not read yet have no summary; they are read one after
 * another, for they may be large.
 */
export async function bringLooksAlong(db: Database): Promise<void> {
  await db.transaction(async (tx) => {
    for (const { table, id, look, written } of KEPT)
      for (const row of await tx.select({ id }).from(table).where(isNull(table.summary))) {
        const own = eq(id, row.id);
        const [kept] = await tx
          .select({ look: sql<Look>`${look}` })
          .from(table)
          .where(own);
        const read = lookSchema.safeParse(kept!.look);
        const change = read.success
          ? { ...written(read.data), summary: summaryOf(read.data) }
          : { summary: unreadable(kept!.look) };
        await tx
          .update(table as typeof looks)
          .set(change as Partial<typeof looks.$inferInsert>)
          .where(own);
      }
  });
}
