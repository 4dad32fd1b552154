/** What is kept is its owner's alone; what is rendered is handed on, and has the rights that the user's umask leaves. */
import { chmod, mkdir, readdir } from "node:fs/promises";
import { dirname, join } from "node:path";

const PRIVATE_UMASK = 0o077;
const [FOLDER_RIGHTS, FILE_RIGHTS] = [0o777, 0o666];

/** Parts of the server are built apart and would each have a mask of their own. */
const holder = globalThis as { paleHaloUmask?: number };

/** From now on files are their owner's alone, whoever else works on this machine. */
export function keepPrivate(): void {
  const before = process.umask(PRIVATE_UMASK);
  holder.paleHaloUmask ??= before;
}

/** Makes a folder that is handed on, with those above it that are not there yet. */
export async function makeShared(folder: string): Promise<void> {
  const allowed = ~(holder.paleHaloUmask ?? PRIVATE_UMASK);
  const first = await mkdir(folder, { recursive: true });
  if (!first) return;
  for (let made = folder; made.length >= first.length; made = dirname(made)) await chmod(made, FOLDER_RIGHTS & allowed);
}

/** Gives a folder and the files in it the rights that they would have had. */
export async function share(folder: string): Promise<void> {
  const allowed = ~(holder.paleHaloUmask ?? PRIVATE_UMASK);
  await chmod(folder, FOLDER_RIGHTS & allowed);
  for (const entry of await readdir(folder, { withFileTypes: true }))
    if (entry.isFile()) await chmod(join(folder, entry.name), FILE_RIGHTS & allowed);
}
