import { and, asc, desc, eq, inArray, max } from "drizzle-orm";
import type { Look } from "../core/look/look";
import type { Profile } from "../core/profile/profiles";
import type { Database } from "./database";
import type { MadeEncoding } from "../core/colour/made";
import {
  encodings,
  footage,
  looks,
  productions,
  profiles,
  renders,
  type RenderState,
  shots,
  tables,
  versions,
} from "./schema";

export type Shot = typeof shots.$inferSelect;
export type Footage = typeof footage.$inferSelect;
export type Version = typeof versions.$inferSelect;
export type Render = typeof renders.$inferSelect;

export const listShots = (db: Database) =>
  db
    .select({ shot: shots, footage, production: productions })
    .from(shots)
    .innerJoin(footage, eq(shots.footageId, footage.id))
    .innerJoin(productions, eq(shots.productionId, productions.id))
    .orderBy(asc(shots.position), asc(shots.created));

export async function findShot(
  db: Database,
  id: string,
): Promise<{ shot: Shot; footage: Footage; production: typeof productions.$inferSelect } | undefined> {
  const [row] = await db
    .select({ shot: shots, footage, production: productions })
    .from(shots)
    .innerJoin(footage, eq(shots.footageId, footage.id))
    .innerJoin(productions, eq(shots.productionId, productions.id))
    .where(eq(shots.id, id));
  return row;
}

export async function addShot(
  db: Database,
  newFootage: typeof footage.$inferInsert,
  newShot: typeof shots.$inferInsert,
  look: Look,
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.insert(footage).values(newFootage).onConflictDoNothing();
    await tx.insert(shots).values(newShot);
    await tx.insert(looks).values({ shotId: newShot.id, body: look });
  });
}

export type ShotChange = Partial<Omit<Shot, "id" | "productionId" | "footageId" | "position" | "created">>;

export const updateShots = (db: Database, ids: string[], change: ShotChange) =>
  db.update(shots).set(change).where(inArray(shots.id, ids)).returning({ id: shots.id });

export const findFootage = async (db: Database, id: string): Promise<Footage | undefined> =>
  (await db.select().from(footage).where(eq(footage.id, id)))[0];

export const listEncodings = (db: Database) => db.select().from(encodings).orderBy(asc(encodings.name));

export const putEncoding = (db: Database, body: MadeEncoding) =>
  db
    .insert(encodings)
    .values({ id: body.id, name: body.name, body })
    .onConflictDoUpdate({ target: encodings.id, set: { name: body.name, body } });

export const removeEncoding = (db: Database, id: string) => db.delete(encodings).where(eq(encodings.id, id));

export const shotsIn = (db: Database, encoding: string) =>
  db.select({ id: shots.id }).from(shots).where(eq(shots.encoding, encoding));

export type ViewTable = typeof tables.$inferSelect;
export const listTables = (db: Database) => db.select().from(tables).orderBy(asc(tables.name));

export const putTable = (db: Database, values: typeof tables.$inferInsert) =>
  db
    .insert(tables)
    .values(values)
    .onConflictDoUpdate({ target: tables.id, set: { name: values.name, file: values.file, text: values.text } });

export async function lookOf(db: Database, shotId: string): Promise<Look | undefined> {
  const [row] = await db.select().from(looks).where(eq(looks.shotId, shotId));
  return row?.body;
}

export const saveLook = (db: Database, shotId: string, body: Look) =>
  db
    .insert(looks)
    .values({ shotId, body })
    .onConflictDoUpdate({ target: looks.shotId, set: { body, updated: new Date() } });

export const versionsOf = (db: Database, shotId: string) =>
  db.select().from(versions).where(eq(versions.shotId, shotId)).orderBy(desc(versions.number));

export async function keepVersion(
  db: Database,
  shotId: string,
  name: string | undefined,
  body: Look,
): Promise<Version> {
  return db.transaction(async (tx) => {
    const [last] = await tx
      .select({ number: max(versions.number) })
      .from(versions)
      .where(eq(versions.shotId, shotId));
    const number = (last?.number ?? 0) + 1;
    const [version] = await tx
      .insert(versions)
      .values({ shotId, number, name: name ?? `Version ${number}`, body })
      .returning();
    return version!;
  });
}

export const renameVersion = (db: Database, shotId: string, id: number, name: string) =>
  db
    .update(versions)
    .set({ name })
    .where(and(eq(versions.shotId, shotId), eq(versions.id, id)))
    .returning();

export const listProfiles = (db: Database) =>
  db.select().from(profiles).orderBy(asc(profiles.kind), asc(profiles.name));

export async function putProfiles(db: Database, all: Profile[]): Promise<void> {
  for (const body of all) {
    const kind = body.format === "pale-halo-lens" ? ("lens" as const) : ("filter" as const);
    await db
      .insert(profiles)
      .values({ id: body.id, kind, name: body.name, body })
      .onConflictDoUpdate({ target: profiles.id, set: { name: body.name, body } });
  }
}

export const listRenders = (db: Database) => db.select().from(renders).orderBy(desc(renders.id)).limit(200);

export async function findRender(db: Database, id: number): Promise<Render | undefined> {
  const [row] = await db.select().from(renders).where(eq(renders.id, id));
  return row;
}

export async function addRender(db: Database, values: typeof renders.$inferInsert): Promise<Render> {
  const [row] = await db.insert(renders).values(values).returning();
  return row!;
}

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

export const unfinishedRenders = (db: Database) =>
  db
    .select()
    .from(renders)
    .where(inArray(renders.state, ["queued", "running"]))
    .orderBy(asc(renders.id));

export async function ensureProduction(db: Database, id: string, name: string): Promise<void> {
  await db.insert(productions).values({ id, name }).onConflictDoNothing();
}
