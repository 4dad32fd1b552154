import { and, desc, eq, getTableColumns, max } from "drizzle-orm";
import type { Look } from "../core/look/look";
import { summaryOf } from "../core/look/summary";
import type { Database } from "./database";
import { shots, versions } from "./schema/schema";

export type Version = typeof versions.$inferSelect;
/** A version as it is listed: without its look, which may be as large as a request. */
export type ListedVersion = Omit<Version, "body" | "summary">;

const { body: _, summary: __, ...listed } = getTableColumns(versions);

/** Versions of a shot, the newest first. */
export const versionsOf = (db: Database, shotId: string): Promise<ListedVersion[]> =>
  db.select(listed).from(versions).where(eq(versions.shotId, shotId)).orderBy(desc(versions.number));

/**
 * Keeps a look as the shot's next version. Versions are numbered one after another, also where several are kept at
 * once.
 */
export const keepVersion = (
  db: Database,
  shotId: string,
  name: string | undefined,
  body: Look,
  note = "",
  glass: Record<string, number> = {},
  madeBy: string | null = null,
): Promise<ListedVersion> =>
  db.transaction(async (tx) => {
    await tx.select({ id: shots.id }).from(shots).where(eq(shots.id, shotId)).for("update");
    const [last] = await tx
      .select({ number: max(versions.number) })
      .from(versions)
      .where(eq(versions.shotId, shotId));
    const number = (last?.number ?? 0) + 1;
    const [version] = await tx
      .insert(versions)
      .values({
        shotId,
        number,
        name: name ?? `Version ${number}`,
        note,
        body,
        glass,
        madeBy,
        summary: summaryOf(body),
      })
      .returning(listed);
    return version!;
  });

const ofShot = (shotId: string, id: number) => and(eq(versions.shotId, shotId), eq(versions.id, id));

export async function findVersion(db: Database, shotId: string, id: number): Promise<Version | undefined> {
  const [row] = await db.select().from(versions).where(ofShot(shotId, id));
  return row;
}

/** Names the version of `revision` anew, or changes its note; undefined where another stands there by now. */
export async function changeVersion(
  db: Database,
  shotId: string,
  id: number,
  change: { name?: string; note?: string },
  revision: number,
): Promise<ListedVersion | undefined> {
  const [row] = await db
    .update(versions)
    .set({ ...change, revision: revision + 1 })
    .where(and(ofShot(shotId, id), eq(versions.revision, revision)))
    .returning(listed);
  return row;
}

export const removeVersion = (db: Database, shotId: string, id: number) =>
  db.delete(versions).where(ofShot(shotId, id)).returning({ id: versions.id });
