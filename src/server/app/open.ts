import { join } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import { type Database, NewerDatabase, openCopy, openDatabase } from "../../store/database";
import { sweepIntake } from "../intake/receive";
import { sweepFootage } from "../intake/take-in";
import { sweepContent } from "../storage/content";
import { clearDataFolder, prepareDataFolder } from "../storage/data-folder";
import { sweepUnfinished } from "../storage/files";
import { lockFolder } from "../storage/lock";
import { dataRoot, projectRoot, StartProblem } from "../storage/roots";
import { keepPrivate } from "../storage/sharing";
import { copyFrom } from "../storage/snapshot";

/** A data folder that is this process's own until it is closed. */
export interface OpenData {
  folder: string;
  db: Database;
  client: PGlite;
  close(): Promise<void>;
}

/**
 * Folders in which killed and interrupted work may have left something. Parts of uploads are not: they are gone on
 * with.
 */
export const SWEPT = ["renders", "footage", "stills", "content"];

/** Removes what was left, before anything else needs room. */
async function free(folder: string): Promise<void> {
  for (const part of SWEPT) await sweepUnfinished(join(folder, part));
  await sweepIntake();
  await sweepContent();
}

/** What only the database can tell: footage that was being taken in, and the content it held. */
async function freeOfDatabase(db: Database): Promise<void> {
  await sweepFootage(db);
  await sweepContent();
}

async function openIn(folder: string) {
  try {
    return await openDatabase(
      folder,
      join(projectRoot(), "src/store/migrations"),
      join(projectRoot(), "dist/empty-database"),
    );
  } catch (error) {
    if (error instanceof NewerDatabase)
      throw new StartProblem(
        `the database in ${join(folder, "database")} is not opened: ${error.message}. Use that version, or another folder`,
      );
    const reason = ((error as Error).message || String(error)).split("\n")[0];
    throw new StartProblem(
      `the database in ${join(folder, "database")} does not open (${reason}). ` +
        "Put back a copy of that folder, or move it away and start again: footage and renders stay where they are",
    );
  }
}

/**
 * Opens the data folder: makes it ready, takes its lock, then its database. `program`: who has it, in words. `clears`:
 * what was left is removed first. `fresh`: everything is. `makes`: it is made where it is not there. Throws
 * StartProblem for what keeps it from opening.
 */
export async function openData(
  program: string,
  { clears = false, fresh = false, makes = true } = {},
): Promise<OpenData> {
  keepPrivate();
  const folder = dataRoot();
  prepareDataFolder(folder, { makes });
  const lock = await lockFolder(folder, program);
  try {
    if (fresh) clearDataFolder(folder);
    if (clears) await free(folder);
    const { db, client } = await openIn(folder);
    if (clears) await freeOfDatabase(db);
    const close = async () => {
      await client.close();
      await lock.release();
    };
    return { folder, db, client, close };
  } catch (error) {
    await lock.release();
    throw error;
  }
}

/**
 * Opens a data folder to read from it: as openData does, or, while a server has it, by a copy of the server's database.
 * Throws StartProblem.
 */
export async function openToRead(program: string): Promise<OpenData> {
  const folder = dataRoot();
  try {
    return await openData(program, { makes: false });
  } catch (error) {
    const archive = error instanceof StartProblem ? await copyFrom(folder) : null;
    if (!archive) throw error;
    const { db, client } = await openCopy(archive);
    return { folder, db, client, close: () => client.close() };
  }
}
