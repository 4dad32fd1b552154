import { and, asc, desc, eq, getTableColumns, inArray, sql } from "drizzle-orm";
import type { Ranges } from "../core/frame/ranges";
import type { Look } from "../core/look/look";
import { summaryOf } from "../core/look/summary";
import type { Database } from "./database";
import type { Production } from "./productions";
import {
  footage,
  looks,
  portions,
  productions,
  renders,
  type RenderState,
  shots,
  stills,
  versions,
} from "./schema/schema";

export type Shot = typeof shots.$inferSelect;
export type Footage = typeof footage.$inferSelect;
export type Render = typeof renders.$inferSelect;
export type NewFootage = typeof footage.$inferInsert;
export type NewShot = typeof shots.$inferInsert;

export interface FoundShot {
  shot: Shot;
  footage: Footage;
  production: Production;
}

/** A look as it stands, and the number of its last change. */
export interface StandingLook {
  look: Look;
  revision: number;
}

const joined = (db: Database) =>
  db
    .select({ shot: shots, footage, production: productions })
    .from(shots)
    .innerJoin(footage, eq(shots.footageId, footage.id))
    .innerJoin(productions, eq(shots.productionId, productions.id));

export const listShots = (db: Database): Promise<FoundShot[]> =>
  joined(db).orderBy(asc(shots.position), asc(shots.created));

export async function findShot(db: Database, id: string): Promise<FoundShot | undefined> {
  const [row] = await joined(db).where(eq(shots.id, id));
  return row;
}

/** Enters footage; what is there by its id stays as it is. */
export const addFootage = async (db: Database, values: NewFootage): Promise<void> => {
  await db.insert(footage).values(values).onConflictDoNothing();
};

export async function addShot(db: Database, newFootage: NewFootage, newShot: NewShot, look: Look): Promise<void> {
  await db.transaction(async (tx) => {
    await addFootage(tx as unknown as Database, newFootage);
    await tx.insert(shots).values(newShot);
    await tx.insert(looks).values({ shotId: newShot.id, body: look, summary: summaryOf(look) });
  });
}

export type ShotChange = Partial<Omit<Shot, "id" | "footageId" | "position" | "created" | "revision">>;

/**
 * Changes shots together and gives their new revisions. Where one of `revisions` is no longer a shot's own, nothing is:
 * null.
 */
export async function updateShots(
  db: Database,
  ids: string[],
  change: ShotChange,
  revisions: Record<string, number> = {},
): Promise<Record<string, number> | null> {
  return db.transaction(async (tx) => {
    const rows = await tx
      .select({ id: shots.id, revision: shots.revision })
      .from(shots)
      .where(inArray(shots.id, ids))
      .for("update");
    if (rows.some(({ id, revision }) => revisions[id] !== undefined && revisions[id] !== revision)) return null;
    const changed = await tx
      .update(shots)
      .set({ ...change, revision: sql`${shots.revision} + 1` })
      .where(inArray(shots.id, ids))
      .returning({ id: shots.id, revision: shots.revision });
    return Object.fromEntries(changed.map(({ id, revision }) => [id, revision]));
  });
}

/** Removes a shot with its look, versions and stills; what was rendered of it stays. */
export const removeShot = (db: Database, id: string): Promise<void> =>
  db.transaction(async (tx) => {
    await tx.delete(versions).where(eq(versions.shotId, id));
    await tx.delete(stills).where(eq(stills.shotId, id));
    await tx.delete(looks).where(eq(looks.shotId, id));
    await tx.delete(shots).where(eq(shots.id, id));
  });

export const listFootage = (db: Database): Promise<Footage[]> =>
  db.select().from(footage).orderBy(asc(footage.created));

export const findFootage = async (db: Database, id: string): Promise<Footage | undefined> =>
  (await db.select().from(footage).where(eq(footage.id, id)))[0];

/** Says where the files of footage lie. */
export const placeFootage = async (db: Database, id: string, folder: string): Promise<void> => {
  await db.update(footage).set({ folder }).where(eq(footage.id, id));
};

export const shotsOf = (db: Database, footageId: string): Promise<{ id: string; name: string }[]> =>
  db.select({ id: shots.id, name: shots.name }).from(shots).where(eq(shots.footageId, footageId));

export const removeFootage = async (db: Database, id: string): Promise<void> => {
  await db.delete(footage).where(eq(footage.id, id));
};

export async function lookOf(db: Database, shotId: string): Promise<StandingLook | undefined> {
  const [row] = await db.select().from(looks).where(eq(looks.shotId, shotId));
  return row && { look: row.body, revision: row.revision };
}

/** Looks to be put on shots, each in place of the one of its revision. */
export interface PutLook {
  shotId: string;
  look: Look;
  revision: number;
}

/**
 * Puts looks on several shots, all or none. Gives their new revisions, or the shots on which another look stands by
 * now.
 */
export async function saveLooks(
  db: Database,
  all: readonly PutLook[],
): Promise<{ revisions: Record<string, number> } | { overtaken: string[] }> {
  class Overtaken extends Error {}
  const overtaken: string[] = [];
  const revisions: Record<string, number> = {};
  try {
    await db.transaction(async (tx) => {
      for (const { shotId, look, revision } of all) {
        const saved = await saveLook(tx as unknown as Database, shotId, look, revision);
        if (saved === null) overtaken.push(shotId);
        else revisions[shotId] = saved;
      }
      // What was put on the others is taken back.
      if (overtaken.length) throw new Overtaken();
    });
  } catch (error) {
    if (error instanceof Overtaken) return { overtaken };
    throw error;
  }
  return { revisions };
}

/** Which shots wear a look, and the number of its last change; the looks themselves are asked for one by one. */
export const wornLooks = (db: Database) =>
  db
    .select({
      shotId: looks.shotId,
      summary: looks.summary,
      revision: looks.revision,
    })
    .from(looks);

/**
 * Saves a look in place of the one of `revision`. Gives the new revision, or null where another stands there by now.
 */
export async function saveLook(db: Database, shotId: string, body: Look, revision: number): Promise<number | null> {
  const [row] = await db
    .update(looks)
    .set({ body, summary: summaryOf(body), revision: revision + 1, updated: new Date() })
    .where(and(eq(looks.shotId, shotId), eq(looks.revision, revision)))
    .returning({ revision: looks.revision });
  return row?.revision ?? null;
}

/** A render as it is listed: with the summary of its look, but without the look and what it was queued with. */
export type ListedRender = Omit<Render, "look" | "snapshot">;

/** A worker that was not heard for so long is taken for dead, and its portions are leased to others, s. */
export const LEASE_SECONDS = 10;

/** How far a render is: counted, so that workers who make it need not wait for one another to say so. */
const progress = {
  done: sql<number>`coalesce(
    (select sum(own.made)::int from portions own where own.render_id = renders.id), renders.done)`,
  framesPerSecond: sql<number | null>`coalesce(
    (select sum(own.frames_per_second) from workers own where own.render_id = renders.id
      and own.heard_at > now() - ${LEASE_SECONDS} * interval '1 second'), renders.frames_per_second)`,
};
const whole = { ...getTableColumns(renders), ...progress };
const { look: _look, snapshot: _snapshot, ...columns } = whole;
export const renderColumns = columns;
const MAX_LISTED = 200;

/** The newest renders. */
export const listRenders = (db: Database): Promise<ListedRender[]> =>
  db.select(columns).from(renders).orderBy(desc(renders.id)).limit(MAX_LISTED);

/** Every render with what lies on the disk of it. */
export const allRenders = (db: Database): Promise<ListedRender[]> => db.select(columns).from(renders);

export async function findRender(db: Database, id: number): Promise<Render | undefined> {
  const [row] = await db.select(whole).from(renders).where(eq(renders.id, id));
  return row;
}

const NUMBER_DIGITS = 4;

/**
 * Adds a render with a folder of its own and its frames in portions, in one transaction: a render without a folder would
 * write among the others' folders. `placed`: where its folder lies, by its name.
 */
export const addRender = (
  db: Database,
  values: Omit<typeof renders.$inferInsert, "folder">,
  parts: readonly Ranges[],
  placed: (name: string) => string = (name) => name,
): Promise<Render> =>
  db.transaction(async (tx) => {
    const [row] = await tx
      .insert(renders)
      .values({ ...values, summary: summaryOf(values.look), folder: "" })
      .returning({ id: renders.id });
    const folder = placed(`${values.stem ?? values.shotId}-${String(row!.id).padStart(NUMBER_DIGITS, "0")}`);
    const [render] = await tx.update(renders).set({ folder }).where(eq(renders.id, row!.id)).returning();
    await addPortions(tx as unknown as Database, row!.id, parts);
    return render!;
  });

export const updateRender = (db: Database, id: number, change: Partial<Render>) =>
  db.update(renders).set(change).where(eq(renders.id, id));

/** Changes the state only from one of `from`, so that a cancel and an end cannot overwrite each other. */
export async function moveRender(
  db: Database,
  id: number,
  from: RenderState[],
  change: Partial<Render>,
): Promise<boolean> {
  const rows = await db
    .update(renders)
    .set(change)
    .where(and(eq(renders.id, id), inArray(renders.state, from)))
    .returning({ id: renders.id });
  return rows.length > 0;
}

export const removeRender = (db: Database, id: number) =>
  db.delete(renders).where(eq(renders.id, id)).returning({ id: renders.id });

export const rendersOf = (db: Database, shotId: string): Promise<ListedRender[]> =>
  db.select(columns).from(renders).where(eq(renders.shotId, shotId)).orderBy(asc(renders.id));

/** Enters the portions of a render: its frames in order, and what ends it when all of them are made. */
export async function addPortions(db: Database, renderId: number, parts: readonly Ranges[]): Promise<void> {
  const frames = parts.map((part) => ({ renderId, kind: "frames" as const, frames: part }));
  await db.insert(portions).values([...frames, { renderId, kind: "close", frames: [] }]);
}
