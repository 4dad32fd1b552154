import { randomUUID } from "node:crypto";
import type { Library, LibraryLook, ListedLook, CurrentLook } from "../../contract/looks";
import { lookOn } from "../../core/look/camera";
import type { Look } from "../../core/look/look";
import { type Cabinet, cabinetOf } from "../../core/profile/profiles";
import type { Database } from "../../store/database";
import {
  changeLibraryLook,
  countLibrary,
  findLibraryLook,
  keepLibraryLook,
  listLibrary,
  removeLibraryLook,
} from "../../store/library";
import { findShot, listShots, lookOf, type PutLook, saveLooks, wornLooks } from "../../store/queries";
import { allProfiles } from "../../store/profiles";
import { notFound, Refusal } from "../errors/errors";
import { readyLooks } from "../seed/ready-looks";

/** Looks of one's own there may be. */
const MAX_LOOKS = 2000;

const told = ({ id, body, revision }: { id: string; body: Look; revision: number }): LibraryLook => ({
  id,
  look: body,
  revision,
});

/** Everything a shot may be given to wear: ready looks, one's own, and those that shots wear now; by their names. */
export async function libraryOf(db: Database): Promise<Library> {
  const ready = readyLooks().map(({ id, look: { name, purpose = null, tags = [] } }): ListedLook => ({
    id,
    name,
    purpose,
    tags,
    revision: null,
  }));
  const own = (await listLibrary(db)).flatMap(({ id, summary, revision }): ListedLook[] => {
    if (!summary) return [];
    const { name, purpose, tags } = summary;
    return [{ id, name, purpose, tags, revision }];
  });
  const worn = new Map(
    (await wornLooks(db)).map(({ shotId, summary, revision }) => [
      shotId,
      { shotId, name: summary?.name ?? shotId, table: summary?.table ?? null, revision },
    ]),
  );
  const inOrder = (await listShots(db)).map(({ shot }) => worn.get(shot.id));
  return { looks: [...ready, ...own], worn: inOrder.filter((entry) => entry !== undefined) };
}

/** A look of the library, ready or one's own. Throws Refusal where there is none. */
export async function libraryLook(db: Database, id: string): Promise<LibraryLook> {
  const ready = readyLooks().find((entry) => entry.id === id);
  return ready ? { id, look: ready.look, revision: null } : ownLook(db, id);
}

/** The look a shot wears, with the shot's own camera. Throws Refusal where there is no such shot. */
export async function currentLook(db: Database, shotId: string): Promise<CurrentLook> {
  const found = await findShot(db, shotId);
  const standing = await lookOf(db, shotId);
  if (!found || !standing) throw notFound(`The shot ${shotId}`);
  return { shotId, look: lookOn(standing.look, found.shot), revision: standing.revision };
}

export async function keepLook(db: Database, look: Look, madeBy: string | null = null): Promise<LibraryLook> {
  if ((await countLibrary(db)) >= MAX_LOOKS)
    throw new Refusal("conflict", `The library holds ${MAX_LOOKS} looks; remove some first`);
  return told(await keepLibraryLook(db, randomUUID(), look, madeBy));
}

/** Throws Refusal (409) where another look stands there by now, and for what ships with the application. */
export async function changeLook(db: Database, id: string, look: Look, revision: number): Promise<LibraryLook> {
  const changed = await changeLibraryLook(db, id, look, revision);
  if (changed) return told(changed);
  const standing = await ownLook(db, id);
  throw new Refusal("conflict", `The look was changed in another window; it is “${standing.look.name}” now`);
}

/** A look of one's own. Throws Refusal where there is none: what ships with the application stays as it is. */
export async function ownLook(db: Database, id: string): Promise<LibraryLook> {
  const found = await findLibraryLook(db, id);
  if (found) return told(found);
  const ready = readyLooks().find((entry) => entry.id === id);
  throw ready
    ? new Refusal(
        "conflict",
        `“${ready.look.name}” ships with the application and stays as it is; keep one of your own`,
      )
    : notFound(`The look ${id}`);
}

export async function removeLook(db: Database, id: string): Promise<void> {
  await ownLook(db, id);
  await removeLibraryLook(db, id);
}

/**
 * Puts looks on shots, all or none, each with its shot's own camera. Throws Refusal where one was changed meanwhile.
 */
export async function putLooks(db: Database, all: readonly PutLook[]): Promise<Record<string, number>> {
  const shots = new Map((await listShots(db)).map(({ shot }) => [shot.id, shot]));
  const missing = all.find(({ shotId }) => !shots.has(shotId));
  if (missing) throw notFound(`The shot ${missing.shotId}`);
  const made = await saveLooks(
    db,
    all.map((entry) => ({ ...entry, look: lookOn(entry.look, shots.get(entry.shotId)!) })),
  );
  if ("revisions" in made) return made.revisions;
  throw new Refusal(
    "conflict",
    `The look of ${made.overtaken.join(", ")} was changed meanwhile; nothing was put on any shot`,
    {
      overtaken: made.overtaken,
    },
  );
}

/** The glass that looks may name. */
export const glassOf = async (db: Database): Promise<Cabinet> => cabinetOf(await allProfiles(db));
