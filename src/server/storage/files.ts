import { randomBytes } from "node:crypto";
import { rmSync } from "node:fs";
import { type FileHandle, open, readdir, rename, rm, stat } from "node:fs/promises";
import { basename, dirname, join } from "node:path";

/** What is being written ends so; what a killed process left behind is known by it. */
export const UNFINISHED = ".part";

/** Files this process has begun and not ended: taken away by whoever is told to stop. */
const begun = new Set<string>();

/** Notes a file or folder that is taken away when this process is told to stop. */
export const noteBegun = (path: string) => void begun.add(path);

/** A name beside `path` to write under until all is there. */
export function temporaryFor(path: string): string {
  const temporary = join(
    dirname(path),
    `.${basename(path).slice(0, 180)}.${randomBytes(4).toString("hex")}${UNFINISHED}`,
  );
  noteBegun(temporary);
  return temporary;
}

/** Takes away what this process was writing. Synchronous: the process is about to end. */
export function removeBegun(): void {
  for (const path of begun) rmSync(path, { recursive: true, force: true });
  begun.clear();
}

export async function discard(temporary: string): Promise<void> {
  await rm(temporary, { recursive: true, force: true });
  begun.delete(temporary);
}

/** Codes of a disk, or a share of it, that is full; 53100 is PostgreSQL's. */
const FULL = ["ENOSPC", "EDQUOT", "53100"];

export function isDiskFull(error: unknown): boolean {
  const { code, cause } = (error ?? {}) as { code?: string; cause?: unknown };
  return FULL.includes(code ?? "") || (cause !== undefined && isDiskFull(cause));
}

/** The disk took less than it was given. */
const shortWrite = (path: string) =>
  Object.assign(new Error(`${basename(path)}: the disk is full`), { code: "ENOSPC" as const });

/** Writes all of it: a single write may take less than it is given. */
export async function writeAll(file: FileHandle, bytes: Uint8Array): Promise<void> {
  for (let at = 0; at < bytes.length;) {
    const { bytesWritten } = await file.write(bytes, at, bytes.length - at);
    if (bytesWritten === 0) throw Object.assign(new Error("The disk is full"), { code: "ENOSPC" });
    at += bytesWritten;
  }
}

/** Gives what was written under a temporary name its own, if it is as long as it should be. */
export async function finish(temporary: string, path: string, size: number): Promise<void> {
  if ((await stat(temporary)).size !== size) throw shortWrite(path);
  await rename(temporary, path);
  begun.delete(temporary);
}

/** Writes a file whole or not at all: under a temporary name, its size compared, then renamed. */
export async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  const temporary = temporaryFor(path);
  try {
    const file = await open(temporary, "w");
    try {
      await writeAll(file, bytes);
    } finally {
      await file.close();
    }
    await finish(temporary, path, bytes.length);
  } catch (error) {
    await discard(temporary);
    throw error;
  }
}

/** Removes what was left unfinished in a folder and those under it; folders of links included. */
export async function sweepUnfinished(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
    const path = join(folder, entry.name);
    if (entry.name.endsWith(UNFINISHED)) await rm(path, { recursive: true, force: true });
    else if (entry.isDirectory()) await sweepUnfinished(path);
  }
}
