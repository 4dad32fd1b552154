/** Footage that a production from elsewhere waits for: known by its content, and not here yet. */
import { createHash } from "node:crypto";
import { existsSync } from "node:fs";
import { join } from "node:path";
import type { FoundGroup } from "../../contract/intake";
import type { Database } from "../../store/database";
import { type Footage, listFootage } from "../../store/queries";
import { hashOf } from "../storage/content";
import { dataRoot } from "../storage/roots";

/** The id of footage by the names and bytes of its files, in the order of their frames. */
export function contentId(files: readonly { name: string; sha256: string }[]): string {
  const hash = createHash("sha256");
  for (const { name, sha256 } of files) hash.update(name).update(Buffer.from(sha256, "hex"));
  return hash.digest("hex").slice(0, 24);
}

/** The same, of files in a folder. */
export async function contentIdIn(folder: string, names: readonly string[]): Promise<string> {
  const files: { name: string; sha256: string }[] = [];
  for (const name of names) files.push({ name, sha256: await hashOf(join(folder, name)) });
  return contentId(files);
}

/** Footage that lies in the data folder by what is known of it, and whose folder is not there. */
const isWaiting = ({ id, folder }: Footage) => folder === join("footage", id) && !existsSync(join(dataRoot(), folder));

/** The footage that waits for a group's files. They are read only where names and frames are what is waited for. */
export async function waitingFor(
  db: Database,
  folder: string,
  { pattern, numbers, files }: FoundGroup,
): Promise<Footage | undefined> {
  const frames = JSON.stringify(numbers);
  const alike = (await listFootage(db)).filter(
    (one) => one.pattern === pattern && JSON.stringify(one.frames) === frames && isWaiting(one),
  );
  if (!alike.length) return undefined;
  const id = await contentIdIn(folder, files);
  return alike.find((one) => one.id === id);
}
