import { randomUUID } from "node:crypto";
import type { Library, LibraryLook, WornLook } from "../../contract/looks";
import { lookOn } from "../../core/look/camera";
import type { Look } from "../../core/look/look";
import { type Cabinet, cabinetOf } from "../../core/profile/profiles";
import type { Database } from "../../store/database";
import {
  changeLibraryLook,
  findLibraryLook,
  keepLibraryLook,
  listLibrary,
  removeLibraryLook,
} from "../../store/library";
import { listProfiles, listShots, type PutLook, saveLooks, standingLooks } from "../../store/queries";
import { notFound, Refusal } from "../http/reply";
import { readyLooks } from "../seed/ready-looks";

/** Looks of one's own there may be. */
const MOST_LOOKS = 2000;

const told = ({ id, body, revision }: { id: string; body: Look; revision: number }): LibraryLook => ({
  id,
  look: body,
  revision,
});

/** Everything a shot may be given to wear: ready looks, one's own, and those that shots wear now. */
export async function libraryOf(db: Database): Promise<Library> {
  const [own, shots, standing] = await Promise.all([listLibrary(db), listShots(db), standingLooks(db)]);
  const ready = readyLooks().map(({ id, look }): LibraryLook => ({ id, look, revision: null }));
  const worn = shots.flatMap(({ shot }): WornLook[] => {
    const found = standing.find(({ shotId }) => shotId === shot.id);
    return found ? [{ ...found, look: lookOn(found.look, shot) }] : [];
  });
  return { looks: [...ready, ...own.map(told)], worn };
}

export async function keepLook(db: Database, look: Look): Promise<LibraryLook> {
  if ((await listLibrary(db)).length >= MOST_LOOKS)
    throw new Refusal(409, `The library holds ${MOST_LOOKS} looks; remove some first`);
  return told(await keepLibraryLook(db, randomUUID(), look));
}

/** Throws Refusal (409) where another look stands there by now, and for what ships with the application. */
export async function changeLook(db: Database, id: string, look: Look, revision: number): Promise<LibraryLook> {
  const changed = await changeLibraryLook(db, id, look, revision);
  if (changed) return told(changed);
  const standing = await ownLook(db, id);
  throw new Refusal(409, `The look was changed in another window; it is “${standing.look.name}” now`);
}

/** A look of one's own. Throws Refusal where there is none: what ships with the application stays as it is. */
export async function ownLook(db: Database, id: string): Promise<LibraryLook> {
  const found = await findLibraryLook(db, id);
  if (found) return told(found);
  const ready = readyLooks().find((entry) => entry.id === id);
  throw ready
    ? new Refusal(409, `“${ready.look.name}” ships with the application and stays as it is; keep one of your own`)
    : notFound(`The look ${id}`);
}

export async function removeLook(db: Database, id: string): Promise<void> {
  await ownLook(db, id);
  await removeLibraryLook(db, id);
}

/** Puts looks on shots, all or none, each with its shot's own camera. Throws Refusal where one was changed meanwhile. */
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
    409,
    `The look of ${made.overtaken.join(", ")} was changed meanwhile; nothing was put on any shot`,
    {
      overtaken: made.overtaken,
    },
  );
}

/** The glass that looks may name. */
export const glassOf = async (db: Database): Promise<Cabinet> =>
  cabinetOf((await listProfiles(db)).map(({ body }) => body));
