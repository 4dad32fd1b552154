import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { constants, copyFile, link, mkdir, readdir, rm, stat } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { FileError } from "../../formats/error";
import { discard, finish, temporaryFor } from "./files";
import { dataRoot } from "./roots";

/** Content by its hash: the same bytes are kept once, however many batches and shots link to them. */
const HASH = /^[0-9a-f]{64}$/;

export const contentPath = (hash: string) => join(dataRoot(), "content", hash.slice(0, 2), hash);
export const sizeOf = (path: string): Promise<number | null> =>
  stat(path).then(
    ({ size }) => size,
    () => null,
  );

/** The hash of bytes, by which content is known. */
export const digestOf = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** The hash of an ordinary file's bytes. Throws FileError for anything else: a pipe would be waited for without end. */
export async function hashOf(path: string): Promise<string> {
  if (!(await stat(path)).isFile()) throw new FileError(basename(path), "is no ordinary file");
  const hash = createHash("sha256");
  for await (const part of createReadStream(path)) hash.update(part as Buffer);
  return hash.digest("hex");
}

/** A link; a copy where the file has as many links as its file system counts to. */
export const linkOrCopy = (from: string, to: string): Promise<void> =>
  link(from, to).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "EMLINK") throw error;
    return copyFile(from, to, constants.COPYFILE_EXCL);
  });

/** Puts a link to `from` at `to`, in place of what is there: it is the old file or the new one, never none. */
export async function linkTo(from: string, to: string): Promise<void> {
  await mkdir(dirname(to), { recursive: true });
  const temporary = temporaryFor(to);
  await linkOrCopy(from, temporary);
  await finish(temporary, to, (await stat(temporary)).size);
  // Where both names were links to one file already, renaming changes nothing and leaves both.
  await discard(temporary);
}

/** Whether content of this hash and length is here. */
export const hasContent = async (hash: string, size: number): Promise<boolean> =>
  HASH.test(hash) && (await sizeOf(contentPath(hash))) === size;

/** Keeps a whole file under its content's name, once; `path` becomes a link to it. Gives the hash. */
export async function keepContent(path: string): Promise<string> {
  const hash = await hashOf(path);
  const content = contentPath(hash);
  await mkdir(dirname(content), { recursive: true });
  try {
    await link(path, content);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
    // Somebody kept the same bytes before, or at this very moment.
    await linkTo(content, path);
  }
  return hash;
}

/** Content that nothing links to any more, with its size in bytes. */
export async function unusedContent(): Promise<{ path: string; bytes: number }[]> {
  const root = join(dataRoot(), "content");
  const unused: { path: string; bytes: number }[] = [];
  for (const shelf of await readdir(root).catch(() => []))
    for (const hash of await readdir(join(root, shelf)).catch(() => [])) {
      const path = join(root, shelf, hash);
      const found = await stat(path).catch(() => null);
      if (found && found.nlink === 1) unused.push({ path, bytes: found.size });
    }
  return unused;
}

/** Removes content that nothing links to any more. Gives the bytes that became free. */
export async function sweepContent(): Promise<number> {
  const unused = await unusedContent();
  for (const { path } of unused) await rm(path, { force: true });
  return unused.reduce((sum, { bytes }) => sum + bytes, 0);
}
