import { randomBytes } from "node:crypto";
import { createWriteStream } from "node:fs";
import { type FileHandle, mkdir, open, stat } from "node:fs/promises";
import { join } from "node:path";
import { pipeline } from "node:stream/promises";
import type { ImportedProduction, ListedProduction, ProductionChange } from "../../contract/productions";
import type { Uses } from "../../contract/shots";
import type { Database } from "../../store/database";
import {
  addProduction,
  changeProduction,
  listProductions,
  openRendersOf,
  removeProduction,
  shotIdsOf,
} from "../../store/productions";
import { notFound, Refusal } from "../errors/errors";
import { outsideUsers, several, takeShotAway } from "../removal/remove";
import { discard, temporaryFor } from "../storage/files";
import { dataRoot } from "../storage/roots";
import { withLock } from "../storage/turn";
import { packProduction } from "./pack";
import { unpackProduction } from "./unpack";
import { unzipTo, zipped } from "./zip";

/** Productions there may be. */
const MAX_PRODUCTIONS = 2000;

export const productions = (db: Database): Promise<ListedProduction[]> => listProductions(db);

/** Throws Refusal where there are too many. */
export async function makeProduction(db: Database, name: string): Promise<{ id: string; name: string }> {
  if ((await listProductions(db)).length >= MAX_PRODUCTIONS)
    throw new Refusal("conflict", `There are ${MAX_PRODUCTIONS} productions; remove some first`);
  const id = `production-${randomBytes(4).toString("hex")}`;
  await addProduction(db, id, name);
  return { id, name };
}

async function named(db: Database, id: string) {
  const found = (await listProductions(db)).find((one) => one.id === id);
  if (!found) throw notFound(`The production ${id}`);
  return found;
}

/** Names a production anew, puts it away or takes it up again. */
export async function changeNamed(db: Database, id: string, change: ProductionChange): Promise<ListedProduction> {
  if (Object.keys(change).length && !(await changeProduction(db, id, change))) throw notFound(`The production ${id}`);
  return named(db, id);
}

/** What hangs on a production: said before it is removed. */
export async function usesOfProduction(db: Database, id: string): Promise<Uses> {
  const { shots, renders } = await named(db, id);
  return {
    usedBy: await outsideUsers(db, await shotIdsOf(db, id)),
    goes: shots ? [`${several(shots, "shot")} with looks, versions, stills, and footage that nothing else uses`] : [],
    stays: ["glass and looks of the library", ...(renders ? [several(renders, "render")] : [])],
  };
}

/**
 * Removes a production with its shots; renders of it stay. Throws Refusal while something outside it takes one of its
 * shots, and while it is rendered.
 */
export async function removeNamed(db: Database, id: string): Promise<void> {
  const { name } = await named(db, id);
  const shots = await shotIdsOf(db, id);
  const usedBy = await outsideUsers(db, shots);
  if (usedBy.length)
    throw new Refusal("conflict", `Shots of ${name} are laid over ${usedBy.join(", ")}; take them off there first`, {
      usedBy,
    });
  const busy = await openRendersOf(db, id);
  if (busy.length)
    throw new Refusal(
      "conflict",
      `${name} is being rendered; cancel ${busy.map((one) => `render ${one.id}`).join(", ")}`,
    );
  for (const shot of shots) await takeShotAway(db, shot);
  await removeProduction(db, id);
}

/** A folder of the data folder's own for one piece of work, which is gone after it. */
async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const root = join(dataRoot(), "productions");
  const folder = temporaryFor(join(root, "production"));
  try {
    await mkdir(folder, { recursive: true });
    return await work(folder);
  } finally {
    await discard(folder);
  }
}

/** A production's zip, opened: its name is gone already, its bytes stay until it is closed. */
export interface OpenZip {
  /** Of the production. */
  name: string;
  bytes: number;
  handle: FileHandle;
  /** What does not go along, in words. */
  lacks: string[];
}

/** Throws Refusal where there is no such production, or it is too large for a zip. */
export const exportZip = (db: Database, id: string): Promise<OpenZip> =>
  inFolder(async (folder) => {
    const parts = join(folder, "parts");
    await mkdir(parts);
    const { name, lacks } = await packProduction(db, id, parts);
    const zip = join(folder, "zip");
    await pipeline(zipped(parts), createWriteStream(zip));
    return { name, lacks, bytes: (await stat(zip)).size, handle: await open(zip) };
  });

/** Brings a production in from a zip, as it comes. Throws FileError that names `file`. */
export const importZip = (db: Database, file: string, parts: AsyncIterable<Uint8Array>): Promise<ImportedProduction> =>
  inFolder(async (folder) => {
    await unzipTo(file, parts, folder);
    return importFolder(db, folder);
  });

/** Brings a production in from a folder. */
export const importFolder = (db: Database, folder: string): Promise<ImportedProduction> =>
  withLock("productions", () => unpackProduction(db, folder));
