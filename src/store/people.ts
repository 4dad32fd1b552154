/** Who may come in: users with their passphrases, tokens of programs, and the secret that sessions are sealed with. */
import { asc, eq } from "drizzle-orm";
import type { Database } from "./database";
import { settings, tokens, users } from "./schema/schema";

export type User = typeof users.$inferSelect;
export type TokenRow = typeof tokens.$inferSelect;

export const listUsers = (db: Database): Promise<User[]> => db.select().from(users).orderBy(asc(users.name));

export const hasUsers = async (db: Database): Promise<boolean> =>
  (await db.select({ name: users.name }).from(users).limit(1)).length > 0;

export const findUser = async (db: Database, name: string): Promise<User | undefined> =>
  (await db.select().from(users).where(eq(users.name, name)))[0];

/** False where there is one of this name. */
export async function addUser(db: Database, name: string, passphrase: string): Promise<boolean> {
  const rows = await db
    .insert(users)
    .values({ name, passphrase })
    .onConflictDoNothing()
    .returning({ name: users.name });
  return rows.length > 0;
}

/** Sets another passphrase; sessions that were begun with the one before end. */
export async function changePassphrase(db: Database, name: string, passphrase: string): Promise<boolean> {
  const rows = await db
    .update(users)
    .set({ passphrase, sessionsFrom: new Date() })
    .where(eq(users.name, name))
    .returning({ name: users.name });
  return rows.length > 0;
}

/** Ends all sessions of a user that were begun before now. */
export const endSessions = (db: Database, name: string) =>
  db.update(users).set({ sessionsFrom: new Date() }).where(eq(users.name, name));

/** Removes a user; sessions and tokens go, too. False where there is none. */
export async function removeUser(db: Database, name: string): Promise<boolean> {
  return (await db.delete(users).where(eq(users.name, name)).returning({ name: users.name })).length > 0;
}

export const listTokens = (db: Database): Promise<TokenRow[]> => db.select().from(tokens).orderBy(asc(tokens.created));

export const addToken = (db: Database, token: Pick<TokenRow, "id" | "userName" | "label" | "digest">) =>
  db.insert(tokens).values(token);

export async function removeToken(db: Database, id: string): Promise<boolean> {
  return (await db.delete(tokens).where(eq(tokens.id, id)).returning({ id: tokens.id })).length > 0;
}

export const tokenWith = async (db: Database, digest: string): Promise<TokenRow | undefined> =>
  (await db.select().from(tokens).where(eq(tokens.digest, digest)))[0];

/** A text that is kept under a name; `made` is kept where there is none yet. */
export async function keptSetting(db: Database, name: string, made: string): Promise<string> {
  await db.insert(settings).values({ name, value: made }).onConflictDoNothing();
  const [row] = await db.select().from(settings).where(eq(settings.name, name));
  return row!.value;
}
