import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { link, mkdir, open, readdir, rename, rm, stat } from "node:fs/promises";
import { dirname, join } from "node:path";
import { FileError } from "../../formats/error";
import { EXTENSIONS, formatOf, LARGEST_FILE } from "../../formats/formats";
import { Refusal } from "../api/respond";
import { dataRoot } from "../root";
import { check, type Checked } from "./check";
import { batchFolder, checkPath } from "./places";

/** Files of a batch as they are sent: streamed to disk, resumed where they broke off, kept once whatever their names. */
const MOST_FILES = 20_000;
const HASH = /^[0-9a-f]{64}$/;
const PART = ".part";

const contentPath = (hash: string) => join(dataRoot(), "content", hash.slice(0, 2), hash);
const sizeOf = (path: string) =>
  stat(path).then(
    ({ size }) => size,
    () => null,
  );

export interface Offer {
  path: string;
  size: number;
  sha256?: string;
}

export interface Answer {
  path: string;
  /** Bytes that are there already; all of them where nothing need be sent. */
  received: number;
}

/** What is already here of files about to be sent: from an earlier attempt, or by their content. */
export async function offered(batch: string, files: Offer[]): Promise<Answer[]> {
  const folder = batchFolder(batch);
  if (files.length > MOST_FILES) throw new Refusal(413, `More than ${MOST_FILES} files in one batch`);
  const answers: Answer[] = [];
  for (const { path, size, sha256 } of files) {
    const target = join(folder, checkPath(path.split("/")));
    const whole = await sizeOf(target);
    if (whole === size) answers.push({ path, received: size });
    else if (sha256 && HASH.test(sha256) && (await sizeOf(contentPath(sha256))) === size) {
      await mkdir(dirname(target), { recursive: true });
      await rm(target, { force: true });
      await link(contentPath(sha256), target);
      answers.push({ path, received: size });
    } else answers.push({ path, received: (await sizeOf(target + PART)) ?? 0 });
  }
  return answers;
}

async function hashOf(path: string): Promise<string> {
  const hash = createHash("sha256");
  for await (const part of createReadStream(path)) hash.update(part as Buffer);
  return hash.digest("hex");
}

/** Keeps a whole file under its content's name, once; the batch holds a link to it. */
async function keep(path: string): Promise<void> {
  const content = contentPath(await hashOf(path));
  await mkdir(dirname(content), { recursive: true });
  if ((await sizeOf(content)) === null) await link(path, content);
  else {
    await rm(path);
    await link(content, path);
  }
}

/** Takes a file's bytes from `at` on; at its end checks it by reading it whole. Throws FileError for what cannot be taken in. */
export async function receive(
  batch: string,
  path: string[],
  at: number,
  size: number,
  body: ReadableStream<Uint8Array> | null,
): Promise<Checked> {
  const name = checkPath(path);
  if (!formatOf(name)) throw new FileError(name, `is of a kind that is not read; ${EXTENSIONS.join(", ")} are`);
  if (!(Number.isInteger(size) && size >= 0 && size <= LARGEST_FILE))
    throw new FileError(name, "is larger than 1.5 GiB; put it under a footage root and name its folder");
  const target = join(batchFolder(batch), name);
  if ((await sizeOf(target)) !== size) {
    await mkdir(dirname(target), { recursive: true });
    const before = (await sizeOf(target + PART)) ?? 0;
    if (at !== before) throw new Refusal(409, `${name}: ${before} bytes are here; go on from there`);
    const file = await open(target + PART, "a");
    try {
      let received = at;
      const reader = body?.getReader();
      for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
        received += part.value.length;
        if (received > size) throw new Refusal(400, `${name}: is longer than it was said to be`);
        await file.write(part.value);
      }
      if (received < size)
        throw new Refusal(400, `${name}: broke off after ${received} of ${size} bytes; send the rest`);
    } finally {
      await file.close();
    }
    await rename(target + PART, target);
    await keep(target);
  }
  try {
    return await check(target, name);
  } catch (error) {
    // What is no picture does not stay.
    await rm(target, { force: true });
    throw error;
  }
}

export const leave = (batch: string) => rm(batchFolder(batch), { recursive: true, force: true });

const WAITS_DAYS = 3;

/** Clears away batches that nobody came back to, and content that no footage links to any more. */
export async function sweep(): Promise<void> {
  const folder = join(dataRoot(), "intake");
  const old = Date.now() - WAITS_DAYS * 86_400_000;
  for (const name of await readdir(folder).catch(() => []))
    if ((await stat(join(folder, name))).mtimeMs < old) await rm(join(folder, name), { recursive: true, force: true });
  const content = join(dataRoot(), "content");
  for (const shelf of await readdir(content).catch(() => []))
    for (const hash of await readdir(join(content, shelf))) {
      const { nlink } = await stat(join(content, shelf, hash));
      if (nlink === 1) await rm(join(content, shelf, hash), { force: true });
    }
}
