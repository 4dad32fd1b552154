import { readdir } from "node:fs/promises";
import { join } from "node:path";
import type { Database } from "../../store/database";
import { type Footage, listFootage, type NewFootage } from "../../store/queries";
import { contentId } from "../intake/waiting";
import { realRoots } from "../intake/places";
import { sourceOf } from "../shots/shot";
import { contentPath, hasContent, hashOf, linkOrCopy, sizeOf } from "../storage/content";
import { wholeFolder } from "../storage/files";
import { keptFolder } from "../storage/named-roots";
import { dataRoot } from "../storage/roots";
import type { FootageReference } from "./document";

/** Footage that a production refers to, as it was found here. */
export interface FoundFootage {
  row: NewFootage;
  /** In words: where its files are. Null: they are not here. */
  where: string | null;
}

type Files = FootageReference["files"];

/** Whether a folder holds exactly these files; sizes are looked at before any is read. */
async function holds(folder: string, files: Files): Promise<boolean> {
  for (const { name, bytes } of files) if ((await sizeOf(join(folder, name))) !== bytes) return false;
  for (const { name, sha256 } of files) if ((await hashOf(join(folder, name))) !== sha256) return false;
  return files.length > 0;
}

/** Footage of the same files that is here by another id. */
async function sameHere(known: readonly Footage[], reference: FootageReference): Promise<Footage | undefined> {
  const { pattern, width, height, files } = reference;
  for (const footage of known) {
    if (footage.pattern !== pattern || footage.width !== width || footage.height !== height) continue;
    if (JSON.stringify(footage.frames) !== JSON.stringify(reference.frames)) continue;
    if (await holds(sourceOf(footage).pattern.folder, files)) return footage;
  }
  return undefined;
}

/** Folders under a root that are looked into for footage. */
const MAX_FOLDERS = 20_000;

/** A folder under a footage root that holds these files. */
async function underRoots(files: Files): Promise<string | undefined> {
  let seen = 0;
  for (const { path } of await realRoots()) {
    const waiting = [path];
    for (let folder = waiting.shift(); folder !== undefined && seen < MAX_FOLDERS; folder = waiting.shift(), seen++) {
      if (await holds(folder, files)) return folder;
      for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => []))
        if (entry.isDirectory() && !entry.name.startsWith(".")) waiting.push(join(folder, entry.name));
    }
  }
  return undefined;
}

/**
 * Finds footage by its content: among what is here, in what was sent before, under the footage roots. What is nowhere is
 * entered all the same: it is found when its files are taken in.
 */
export async function findByContent(db: Database, reference: FootageReference): Promise<FoundFootage> {
  const { files, ...rest } = reference;
  const same = await sameHere(await listFootage(db), reference);
  if (same) return { row: same, where: "here already" };
  const id = contentId(files);
  const folder = join("footage", id);
  const row = { ...rest, id, folder };
  const isKept = await Promise.all(files.map(({ sha256, bytes }) => hasContent(sha256, bytes)));
  if (files.length && isKept.every(Boolean)) {
    await wholeFolder(join(dataRoot(), folder), async (building) => {
      for (const { name, sha256 } of files) await linkOrCopy(contentPath(sha256), join(building, name));
    });
    return { row, where: "sent here before" };
  }
  const found = await underRoots(files);
  return found ? { row: { ...row, folder: keptFolder(await realRoots(), found) }, where: found } : { row, where: null };
}
