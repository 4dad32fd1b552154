/** Productions: bodies of work, each with shots, stills and renders of its own. */
import { asc, eq, inArray, sql } from "drizzle-orm";
import type { Look } from "../core/look/look";
import { summaryOf } from "../core/look/summary";
import type { Database } from "./database";
import { looks, productions, renders, shots, stills, versions } from "./schema/schema";

export type Production = typeof productions.$inferSelect;

const countOf = (table: "shots" | "renders") =>
  sql<number>`(select count(*)::int from ${sql.identifier(table)} own where own.production_id = productions.id)`;

/** With how many shots and renders each has, the oldest first. */
export const listProductions = (db: Database) =>
  db
    .select({
      id: productions.id,
      name: productions.name,
      archived: productions.archived,
      shots: countOf("shots"),
      renders: countOf("renders"),
    })
    .from(productions)
    .orderBy(asc(productions.created), asc(productions.id));

export const findProduction = async (db: Database, id: string): Promise<Production | undefined> =>
  (await db.select().from(productions).where(eq(productions.id, id)))[0];

export const hasProduction = async (db: Database, id: string): Promise<boolean> =>
  (await findProduction(db, id)) !== undefined;

/** Enters a production; false where it was there already. */
export async function addProduction(db: Database, id: string, name: string): Promise<boolean> {
  const rows = await db
    .insert(productions)
    .values({ id, name })
    .onConflictDoNothing()
    .returning({ id: productions.id });
  return rows.length > 0;
}

/** The production that footage goes into where none is named: the first that is not archived, or else a new one. */
export async function openProduction(db: Database): Promise<Production> {
  const [first] = await db
    .select()
    .from(productions)
    .where(eq(productions.archived, false))
    .orderBy(asc(productions.created))
    .limit(1);
  if (first) return first;
  for (let number = 1; ; number++) {
    const id = number === 1 ? "production" : `production-${number}`;
    if (await addProduction(db, id, "New production")) return (await findProduction(db, id))!;
  }
}

export async function changeProduction(
  db: Database,
  id: string,
  change: { name?: string; archived?: boolean },
): Promise<Production | undefined> {
  const [row] = await db.update(productions).set(change).where(eq(productions.id, id)).returning();
  return row;
}

/** Removes a production that has no shots left; its renders stay. */
export const removeProduction = (db: Database, id: string) =>
  db.delete(productions).where(eq(productions.id, id)).returning({ id: productions.id });

export const shotIdsOf = async (db: Database, productionId: string): Promise<string[]> =>
  (
    await db
      .select({ id: shots.id })
      .from(shots)
      .where(eq(shots.productionId, productionId))
      .orderBy(asc(shots.position), asc(shots.created))
  ).map(({ id }) => id);

/** Versions of a shot with their looks, the oldest first. */
export const wholeVersionsOf = (db: Database, shotId: string) =>
  db.select().from(versions).where(eq(versions.shotId, shotId)).orderBy(asc(versions.number));

/** Stills of a shot with their looks, the oldest first. */
export const wholeStillsOf = (db: Database, shotId: string) =>
  db.select().from(stills).where(eq(stills.shotId, shotId)).orderBy(asc(stills.id));

/** A version as it comes from elsewhere. */
export type EnteredVersion = Pick<
  typeof versions.$inferInsert,
  "number" | "name" | "note" | "body" | "glass" | "madeBy" | "created"
>;

/** Enters a shot that comes from elsewhere, with its look and versions; its footage is there. */
export async function enterShot(
  db: Database,
  shot: typeof shots.$inferInsert,
  look: Look,
  kept: readonly EnteredVersion[],
): Promise<void> {
  await db.insert(shots).values(shot);
  await db.insert(looks).values({ shotId: shot.id, body: look, summary: summaryOf(look) });
  if (kept.length)
    await db
      .insert(versions)
      .values(kept.map((version) => ({ ...version, shotId: shot.id, summary: summaryOf(version.body) })));
}

/** Which of some shots' ids are taken. */
export const takenShots = async (db: Database, ids: readonly string[]): Promise<Set<string>> =>
  new Set(
    ids.length
      ? (
          await db
            .select({ id: shots.id })
            .from(shots)
            .where(inArray(shots.id, [...ids]))
        ).map(({ id }) => id)
      : [],
  );

/** Renders of a production that are still to be made. */
export const openRendersOf = (db: Database, productionId: string) =>
  db
    .select({ id: renders.id })
    .from(renders)
    .where(sql`${renders.productionId} = ${productionId} and ${renders.state} in ('queued', 'running')`);
