import { and, asc, eq } from "drizzle-orm";
import { type Profile, pinnedId } from "../core/profile/profiles";
import type { Database } from "./database";
import { profileRevisions, profiles } from "./schema/schema";

/** Profiles of lenses and filters: what ships with the application, and one's own with what they were before. */

export type StoredProfile = typeof profiles.$inferSelect;

export const listProfiles = (db: Database): Promise<StoredProfile[]> =>
  db.select().from(profiles).orderBy(asc(profiles.kind), asc(profiles.name));

/** Earlier revisions of all profiles, each under an id that names its revision. */
export async function earlierProfiles(db: Database): Promise<Profile[]> {
  const rows = await db.select().from(profileRevisions).orderBy(asc(profileRevisions.created));
  return rows.map(({ profileId, revision, body }) => ({
    ...body,
    id: pinnedId(profileId, revision),
    name: `${body.name}, revision ${revision}`,
  }));
}

/** Every profile a look may name: as they are now, and as versions may still use them. */
export const allProfiles = async (db: Database): Promise<Profile[]> => [
  ...(await listProfiles(db)).map(({ body }) => body),
  ...(await earlierProfiles(db)),
];

export async function findProfile(db: Database, id: string): Promise<StoredProfile | undefined> {
  const [row] = await db.select().from(profiles).where(eq(profiles.id, id));
  return row;
}

const valuesOf = (body: Profile) => ({
  id: body.id,
  kind: body.format === "pale-halo-lens" ? ("lens" as const) : ("filter" as const),
  name: body.name,
  body,
});

/** Enters profiles that ship with the application and are not there yet; what is there stays as it is. */
export async function addShippedProfiles(db: Database, all: Profile[]): Promise<void> {
  for (const body of all)
    await db
      .insert(profiles)
      .values({ ...valuesOf(body), shipped: true })
      .onConflictDoNothing();
}

/** Keeps a profile of one's own; undefined where its id is taken. */
export async function keepProfile(
  db: Database,
  body: Profile,
  copiedFrom: string | null,
): Promise<StoredProfile | undefined> {
  const [row] = await db
    .insert(profiles)
    .values({ ...valuesOf(body), copiedFrom })
    .onConflictDoNothing()
    .returning();
  return row;
}

/** Enters a profile that comes from elsewhere, with what it was before; its id is free. */
export async function enterProfile(
  db: Database,
  body: Profile,
  revision: number,
  earlier: readonly { revision: number; body: Profile }[],
): Promise<void> {
  await db.insert(profiles).values({ ...valuesOf(body), revision });
  if (earlier.length)
    await db.insert(profileRevisions).values(earlier.map((before) => ({ ...before, profileId: body.id })));
}

/** Puts another body in place of the one of `revision`, which is kept; undefined where another stands there by now. */
export const changeProfile = (
  db: Database,
  id: string,
  body: Profile,
  revision: number,
): Promise<StoredProfile | undefined> =>
  db.transaction(async (tx) => {
    const [before] = await tx
      .select()
      .from(profiles)
      .where(and(eq(profiles.id, id), eq(profiles.revision, revision), eq(profiles.shipped, false)))
      .for("update");
    if (!before) return undefined;
    await tx.insert(profileRevisions).values({ profileId: id, revision, body: before.body });
    const [row] = await tx
      .update(profiles)
      .set({ ...valuesOf({ ...body, id }), revision: revision + 1 })
      .where(eq(profiles.id, id))
      .returning();
    return row;
  });

export const removeProfile = (db: Database, id: string) =>
  db
    .delete(profiles)
    .where(and(eq(profiles.id, id), eq(profiles.shipped, false)))
    .returning({ id: profiles.id });
