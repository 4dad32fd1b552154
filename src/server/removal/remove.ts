import { readdir, rm } from "node:fs/promises";
import { join } from "node:path";
import type { Uses } from "../../contract/shots";
import { countOf, framesIn } from "../../core/frame/ranges";
import type { Database } from "../../store/database";
import {
  findFootage,
  findShot,
  type Footage,
  listShots,
  removeFootage,
  removeRender,
  removeShot,
  rendersOf,
  shotsOf,
} from "../../store/queries";
import { findTable, removeTable } from "../../store/colour";
import { findVersion, removeVersion, versionsOf } from "../../store/versions";
import { isBeingMade } from "../../store/farm";
import { looksThatUse } from "../../store/uses";
import { sourceOf } from "../shots/shot";
import { fileAt } from "../footage/source";
import { stillsOf } from "../../store/library";
import { folderOfStill } from "../stills/place";
import { notFound, Refusal } from "../errors/errors";
import { numberIn } from "../http/reply";
import { folderOf, renderNamed } from "../render/deliver";
import { sweepContent } from "../storage/content";
import { liesElsewhere } from "../storage/named-roots";
import { dataRoot } from "../storage/roots";
import { withLock } from "../storage/turn";

export const several = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;

/**
 * Shots whose looks, as they are now or as they were kept, lay this one over theirs; and renders of them that are still
 * to be made.
 */
async function laidOver(db: Database, id: string): Promise<string[]> {
  const using = await looksThatUse(db, ({ shots }) => shots.includes(id));
  const shots = using.filter((look) => look.shotId !== null && look.shotId !== id && look.in !== "still");
  const named = shots.map((look) => (look.in === "render" ? `render ${look.id}` : look.shotId!));
  const measured = (await listShots(db)).filter(({ shot }) => shot.id !== id && shot.depth?.footage === id);
  return [...new Set([...named, ...measured.map(({ shot }) => shot.id)])];
}

const liesHere = ({ folder }: Footage) => !liesElsewhere(folder);

export async function usesOfShot(db: Database, id: string): Promise<Uses> {
  const found = await findShot(db, id);
  if (!found) throw notFound(`The shot ${id}`);
  const { footage } = found;
  const isLast = (await shotsOf(db, footage.id)).length === 1;
  const versions = (await versionsOf(db, id)).length;
  const stills = (await stillsOf(db, id)).length;
  const renders = (await rendersOf(db, id)).length;
  const frames = several(countOf(footage.frames), "frame");
  return {
    usedBy: await laidOver(db, id),
    goes: [
      "its look",
      ...(versions ? [several(versions, "version")] : []),
      ...(stills ? [several(stills, "still")] : []),
      ...(isLast && liesHere(footage) ? [`its footage (${frames})`] : []),
    ],
    stays: [
      ...(renders ? [several(renders, "render")] : []),
      ...(isLast ? [] : ["its footage, which other shots use"]),
      ...(isLast && !liesHere(footage) ? [`its footage, where it lies (${frames})`] : []),
    ],
  };
}

/** Removes a shot; footage that no other shot uses goes with it, from the disk too where it was sent here. */
export async function removeShotNamed(db: Database, id: string): Promise<{ freed: number }> {
  const { usedBy } = await usesOfShot(db, id);
  if (usedBy.length)
    throw new Refusal("conflict", `${id} is laid over ${usedBy.join(", ")}; take it off there first`, { usedBy });
  await checkNotRendered(db, id);
  return takeShotAway(db, id);
}

async function checkNotRendered(db: Database, id: string): Promise<void> {
  const busy = (await rendersOf(db, id)).filter(({ state }) => state === "queued" || state === "running");
  if (busy.length)
    throw new Refusal(
      "conflict",
      `${id} is being rendered; cancel ${busy.map((entry) => `render ${entry.id}`).join(", ")} first`,
    );
}

/** What takes one of some shots, and is none of them. */
export async function outsideUsers(db: Database, ids: readonly string[]): Promise<string[]> {
  const users = (await Promise.all(ids.map((id) => laidOver(db, id)))).flat();
  return [...new Set(users)].filter((user) => !ids.includes(user));
}

/** Removes a shot whatever takes it. */
export async function takeShotAway(db: Database, id: string): Promise<{ freed: number }> {
  const { footage } = (await findShot(db, id))!;
  const stills = await stillsOf(db, id);
  await removeShot(db, id);
  for (const still of stills) await rm(folderOfStill(still.id), { recursive: true, force: true });
  return (await shotsOf(db, footage.id)).length ? { freed: 0 } : removeFootageNamed(db, footage.id);
}

/**
 * Removes footage that no shot uses; its files too where they were sent here. Content that nothing uses any more goes
 * at once.
 */
export const removeFootageNamed = (db: Database, id: string): Promise<{ freed: number }> =>
  withLock(`footage ${id}`, async () => {
    const footage = await findFootage(db, id);
    if (!footage) throw notFound(`The footage ${id}`);
    const users = await shotsOf(db, id);
    if (users.length)
      throw new Refusal(
        "conflict",
        `The footage is used by ${users.map(({ name }) => name).join(", ")}; remove them first`,
      );
    await removeFootage(db, id);
    if (!liesHere(footage)) return { freed: 0 };
    const { pattern, frames } = sourceOf(footage);
    for (const frame of framesIn(frames)) await rm(fileAt(pattern, frame).path, { force: true });
    const folder = join(dataRoot(), footage.folder);
    if (!(await readdir(folder).catch(() => ["?"])).length) await rm(folder, { recursive: true, force: true });
    return { freed: await sweepContent() };
  });

export async function removeVersionNamed(db: Database, shotId: string, version: string): Promise<void> {
  const id = numberIn(version, "The version");
  if (!(await findVersion(db, shotId, id))) throw notFound(`That version of ${shotId}`);
  await removeVersion(db, shotId, id);
}

/** Removes a render that has ended, and its files. */
export async function removeRenderNamed(db: Database, id: string): Promise<void> {
  const render = await renderNamed(db, id);
  if (render.state === "queued" || render.state === "running" || (await isBeingMade(db, render.id)))
    throw new Refusal("conflict", `Render ${id} is under way; cancel it first`);
  await removeRender(db, render.id);
  if (render.folder) await rm(folderOf(render), { recursive: true, force: true });
}

/**
 * What shows its picture through a table: shots, with their versions; stills; looks of the library. What is to be
 * rendered has it.
 */
export async function usesOfTable(db: Database, id: string): Promise<string[]> {
  const using = await looksThatUse(db, ({ table }) => table === id);
  const shots = using.filter((look) => look.in === "shot" || look.in === "version").map(({ shotId }) => shotId!);
  const stills = using.filter((look) => look.in === "still").map((still) => `still ${still.id}`);
  const names = using.filter((look) => look.in === "library").map(({ name }) => name);
  return [...new Set(shots), ...stills, ...names.map((name) => `the look “${name}”`)];
}

export async function removeTableNamed(db: Database, id: string): Promise<void> {
  if (!(await findTable(db, id))) throw notFound(`The table ${id}`);
  const usedBy = await usesOfTable(db, id);
  if (usedBy.length)
    throw new Refusal("conflict", `The table is the view of ${usedBy.join(", ")}; choose another view there first`, {
      usedBy,
    });
  await removeTable(db, id);
}
