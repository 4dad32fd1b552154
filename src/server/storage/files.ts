import { createHash, randomBytes } from "node:crypto";
import { readdirSync, rmSync } from "node:fs";
import { type FileHandle, mkdir, open, readdir, rename, rm, stat } from "node:fs/promises";
import { hostname } from "node:os";
import { basename, dirname, join } from "node:path";

/** What is being written ends so; what a killed process left behind is known by it. */
export const UNFINISHED = ".part";

/** Files this process has begun and not ended: taken away by whoever is told to stop. */
const begun = new Set<string>();

/** Notes a file or folder that is taken away when this process is told to stop. */
export const noteBegun = (path: string) => void begun.add(path);

/** Bytes of the name that are kept in a temporary one, so that it stays within what systems allow. */
const MAX_STEM_LENGTH = 120;

/** Whose a temporary name is: this machine and this process. Other machines may write into the same folder. */
const MACHINE = createHash("sha256").update(hostname()).digest("hex").slice(0, 6);
const OWNED = new RegExp(`\\.${MACHINE}-(\\d+)-[0-9a-f]+\\${UNFINISHED}$`);

/** A name beside `path` to write under until all is there. */
export function temporaryFor(path: string): string {
  const tag = `${MACHINE}-${process.pid}-${randomBytes(4).toString("hex")}`;
  // A letter may be several bytes: one that is cut through is left out.
  const stem = Buffer.from(basename(path)).subarray(0, MAX_STEM_LENGTH).toString().replaceAll("\ufffd", "");
  const temporary = join(dirname(path), `.${stem}.${tag}${UNFINISHED}`);
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

/** Fills a folder that appears whole, or not at all, in place of what stands there. */
export async function wholeFolder(path: string, fill: (building: string) => Promise<void>): Promise<void> {
  const building = temporaryFor(path);
  try {
    await mkdir(building, { recursive: true });
    await fill(building);
    await rm(path, { recursive: true, force: true });
    await rename(building, path);
  } finally {
    await discard(building);
  }
}

/** Whether a process of this machine is alive. */
export function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
}

/** Removes what processes of this machine that are no more had begun in a folder; what others are writing stays. */
export function sweepAbandoned(folder: string): void {
  for (const name of readdirSync(folder)) {
    const pid = Number(OWNED.exec(name)?.[1]);
    if (pid && !isRunning(pid)) rmSync(join(folder, name), { recursive: true, force: true });
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
