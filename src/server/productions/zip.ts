import { closeSync, createReadStream, mkdirSync, openSync, writeSync } from "node:fs";
import { readdir, stat } from "node:fs/promises";
import { dirname, join, relative } from "node:path";
import { Unzip, UnzipInflate, Zip, ZipDeflate, ZipPassThrough } from "fflate";
import { FileError } from "../../formats/error";
import { Refusal } from "../errors/errors";
import { MAX_ZIP } from "../http/guard";

const GIB = 2 ** 30;
const MAX_FILES = 100_000;
/** Names that a production has: nothing leads out of its folder. */
const NAME = /^(production\.json|(shots\/[\w%~!'()*@-]+|profiles|encodings|tables)\/[\w%~!'()*@.-]+\.(json|exr|txt))$/;
/** Pictures are packed already. */
const isPacked = (name: string) => name.endsWith(".exr");
/** The same folder is the same zip: every entry has this time. */
const NO_TIME = new Date(1980, 0, 1);

async function filesIn(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile())
    .map((entry) => relative(folder, join(entry.parentPath, entry.name)))
    .sort();
}

/** A folder as a zip, as it comes. Throws Refusal where it would be too large for one. */
export async function* zipped(folder: string): AsyncGenerator<Uint8Array> {
  const names = await filesIn(folder);
  let size = 0;
  for (const name of names) size += (await stat(join(folder, name))).size;
  if (size > MAX_ZIP)
    throw new Refusal("too-large", `It is larger than ${MAX_ZIP / GIB} GiB; export it as a folder by the command line`);
  let waiting: Uint8Array[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, bytes) => {
    failed ??= error;
    if (bytes?.length) waiting.push(bytes);
  });
  const taken = () => {
    if (failed) throw failed;
    const parts = waiting;
    waiting = [];
    return parts;
  };
  for (const name of names) {
    const entry = isPacked(name) ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 6 });
    entry.mtime = NO_TIME;
    zip.add(entry);
    for await (const part of createReadStream(join(folder, name))) {
      entry.push(part as Buffer);
      yield* taken();
    }
    entry.push(new Uint8Array(), true);
    yield* taken();
  }
  zip.end();
  yield* taken();
}

/** Unpacks a production's zip, as it comes, into an empty folder. Throws FileError, naming `file`, for anything else. */
export async function unzipTo(file: string, parts: AsyncIterable<Uint8Array>, folder: string): Promise<void> {
  let bytes = 0;
  let problem: FileError | null = null;
  const seen = new Set<string>();
  const open = new Set<number>();
  const unzip = new Unzip((entry) => {
    if (problem || entry.name.endsWith("/")) return;
    if (!NAME.test(entry.name)) problem = new FileError(file, `holds “${entry.name}”, which no production has`);
    else if (seen.has(entry.name)) problem = new FileError(file, `holds “${entry.name}” twice`);
    else if (seen.add(entry.name).size > MAX_FILES) problem = new FileError(file, `holds more than ${MAX_FILES} files`);
    if (problem) return;
    const path = join(folder, entry.name);
    mkdirSync(dirname(path), { recursive: true });
    const target = openSync(path, "wx");
    open.add(target);
    entry.ondata = (error, part, isLast) => {
      if (error) problem ??= new FileError(file, "is damaged");
      bytes += part?.length ?? 0;
      if (bytes > MAX_ZIP) problem ??= new FileError(file, `is larger than ${MAX_ZIP / GIB} GiB unpacked`);
      if (problem) return entry.terminate();
      writeSync(target, part);
      if (isLast && open.delete(target)) closeSync(target);
    };
    entry.start();
  });
  unzip.register(UnzipInflate);
  try {
    for await (const part of parts) {
      unzip.push(part);
      if (problem) throw problem as FileError;
    }
    unzip.push(new Uint8Array(), true);
  } catch (error) {
    if (error instanceof FileError || error instanceof Refusal) throw error;
    throw new FileError(file, `is no zip that can be read: ${(error as Error).message}`);
  } finally {
    const isWhole = open.size === 0;
    for (const target of open) closeSync(target);
    if (!isWhole) problem ??= new FileError(file, "is cut off");
  }
  if (problem) throw problem as FileError;
  if (!seen.size) throw new FileError(file, "holds no production");
}
