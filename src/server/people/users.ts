/** Users and their tokens, as the command line asks for them. */
import { randomBytes } from "node:crypto";
import { MAX_PASSPHRASE, MIN_PASSPHRASE, userName } from "../../contract/people";
import type { Database } from "../../store/database";
import {
  addToken,
  addUser,
  changePassphrase,
  findUser,
  listTokens,
  listUsers,
  removeToken,
  removeUser,
} from "../../store/people";
import { notFound, Refusal } from "../errors/errors";
import { keptPassphrase } from "./passphrase";
import { tokenDigest } from "./sessions";

function checkedPassphrase(passphrase: string): string {
  if (passphrase.length < MIN_PASSPHRASE || passphrase.length > MAX_PASSPHRASE)
    throw new Refusal("invalid", `The passphrase has ${MIN_PASSPHRASE} to ${MAX_PASSPHRASE} characters`);
  return passphrase;
}

export async function addUserNamed(db: Database, given: string, passphrase: string): Promise<string> {
  const read = userName.safeParse(given);
  if (!read.success) throw new Refusal("invalid", `The name “${given}” ${read.error.issues[0]!.message}`);
  if (!(await addUser(db, read.data, await keptPassphrase(checkedPassphrase(passphrase)))))
    throw new Refusal("conflict", `There is a user ${read.data} already`);
  return read.data;
}

export async function changePassphraseOf(db: Database, name: string, passphrase: string): Promise<void> {
  if (!(await changePassphrase(db, name, await keptPassphrase(checkedPassphrase(passphrase)))))
    throw notFound(`The user ${name}`);
}

export async function removeUserNamed(db: Database, name: string): Promise<void> {
  if (!(await removeUser(db, name))) throw notFound(`The user ${name}`);
}

const TOKEN_BYTES = 32;
const ID_BYTES = 4;

/** A token for a program of a user's. It is told once: only its hash is kept. */
export async function makeToken(db: Database, name: string, label: string): Promise<{ id: string; token: string }> {
  if (!(await findUser(db, name))) throw notFound(`The user ${name}`);
  const token = randomBytes(TOKEN_BYTES).toString("base64url");
  const id = randomBytes(ID_BYTES).toString("hex");
  await addToken(db, { id, userName: name, label, digest: tokenDigest(token) });
  return { id, token };
}

export async function removeTokenNamed(db: Database, id: string): Promise<void> {
  if (!(await removeToken(db, id))) throw notFound(`The token ${id}`);
}

/** Users as they are listed: without their passphrases. */
export const usersListed = async (db: Database) =>
  (await listUsers(db)).map(({ name, created }) => ({ name, created }));

/** Tokens as they are listed: without their hashes. */
export const tokensListed = async (db: Database) =>
  (await listTokens(db)).map(({ id, userName: user, label, created }) => ({ id, user, label, created }));
