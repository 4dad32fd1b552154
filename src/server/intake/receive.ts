import { mkdir, open, readdir, rename, rm, stat } from "node:fs/promises";
import { dirname, join } from "node:path";
import type { Offer, Offered, Piece } from "../../contract/intake";
import { FileError } from "../../formats/error";
import { describedFormat, EXTENSIONS, MAX_FILE } from "../../formats/formats";
import { MOVIE_CONTAINERS } from "../../formats/movies";
import { isMovieName } from "../../core/image/movies";
import { hasFfmpeg } from "../footage/movies/ffmpeg";
import { Refusal } from "../errors/errors";
import { partsOf } from "../http/reply";
import { steadyNow } from "../waiting/clock";
import { contentPath, hasContent, hashOf, keepContent, linkTo, sizeOf, sweepContent } from "../storage/content";
import { UNFINISHED, writeAll } from "../storage/files";
import { ensureRoom } from "../storage/room";
import { dataRoot } from "../storage/roots";
import { withLock } from "../storage/turn";
import { check, type Checked } from "./check";
import { batchFolder, checkPath } from "./places";

/**
 * Files of a batch as they are sent: streamed to disk, resumed where they broke off, kept once whatever their names.
 */
const MAX_FILES = 20_000;

/** Links content to a file; false where its last user has just gone, and it with them. */
const linked = (content: string, target: string): Promise<boolean> =>
  linkTo(content, target).then(
    () => true,
    (error: NodeJS.ErrnoException) => {
      if (error.code === "ENOENT") return false;
      throw error;
    },
  );

/** What is already here of files about to be sent: from an earlier attempt, or by their content. */
export async function offered(batch: string, files: Offer[]): Promise<Offered[]> {
  const folder = batchFolder(batch);
  if (files.length > MAX_FILES) throw new Refusal("too-large", `More than ${MAX_FILES} files in one batch`);
  const answers: Offered[] = [];
  for (const { path, size, sha256 } of files) {
    const target = join(folder, checkPath(path.split("/")));
    const passed = passWhatStands(target);
    const received = await withLock(target, async () => {
      passed();
      const whole = await sizeOf(target);
      if (size === undefined) {
        // Where it is to go on is not known: what broke off is sent anew.
        if (whole === null) await rm(target + UNFINISHED, { force: true });
        return whole ?? 0;
      }
      const isThere = whole === size;
      if (isThere && (!sha256 || (await hashOf(target)) === sha256)) return size;
      // Other bytes that happen to be as many are not what is offered.
      if (isThere) await rm(target, { force: true });
      if (sha256 && (await hasContent(sha256, size)) && (await linked(contentPath(sha256), target))) return size;
      return (await sizeOf(target + UNFINISHED)) ?? 0;
    });
    answers.push({ path, received });
  }
  return answers;
}

/** Adds a body to what is here of a file. What reached the disk stays there, to be gone on from. */
async function append(
  name: string,
  target: string,
  { at, until, size }: Piece,
  body: ReadableStream<Uint8Array> | null,
): Promise<void> {
  const part = target + UNFINISHED;
  await mkdir(dirname(target), { recursive: true });
  const before = (await sizeOf(part)) ?? 0;
  if (at !== before)
    throw new Refusal("conflict", `${name}: ${before} bytes are here; go on from there`, { received: before });
  await ensureRoom(dirname(target), size - at);
  const file = await open(part, "a");
  try {
    let received = at;
    const own = { heard: steadyNow(), gone: new AbortController() };
    receiving.set(target, own);
    for await (const bytes of partsOf(body, Infinity, own.gone.signal)) {
      own.heard = steadyNow();
      received += bytes.length;
      if (received > until)
        throw new Refusal("invalid", `${name}: is longer than it was said to be`, { code: "too-long" });
      await writeAll(file, bytes);
    }
    if (received < until)
      throw new Refusal("invalid", `${name}: broke off after ${received} of ${size} bytes; send the rest`, {
        received,
      });
    await file.datasync();
  } catch (error) {
    // More than was said is not what was offered; what is short of it is gone on with.
    if (error instanceof Refusal && error.more.code === "too-long") await rm(part, { force: true });
    throw error;
  } finally {
    receiving.delete(target);
    await file.close();
  }
  if ((await sizeOf(part)) !== until) throw new Refusal("full", `${name}: the disk did not take all of it; make room`);
  if (until === size) await rename(part, target);
}

/** An upload that has sent nothing for so long stands still, ms. */
const STANDS_STILL_MS = 5_000;
const LOOKS_EVERY_MS = 500;

/** Uploads that are being received, by the file they go to: when something came last, and what ends them. */
const receiving = new Map<string, { heard: number; gone: AbortController }>();

/**
 * Ends an upload of the same file that stands still, so that the one that comes after it need not wait; ended by what
 * is given.
 */
function passWhatStands(target: string): () => void {
  const looks = setInterval(() => {
    const earlier = receiving.get(target);
    if (earlier && steadyNow() - earlier.heard > STANDS_STILL_MS) earlier.gone.abort();
  }, LOOKS_EVERY_MS);
  return () => clearInterval(looks);
}

/** Extensions of what is read here. */
const readHere = () => [
  ...EXTENSIONS,
  ...(hasFfmpeg() ? MOVIE_CONTAINERS.flatMap(({ extensions }) => extensions) : []),
];

/**
 * Takes a piece of a file; at its end checks it by reading it whole. Null as long as there is more to come. Throws
 * FileError for what cannot be taken in.
 */
export async function receive(
  batch: string,
  path: string[],
  piece: Piece,
  body: ReadableStream<Uint8Array> | null,
): Promise<Checked | null> {
  const { at, until, size } = piece;
  const name = checkPath(path);
  if (!describedFormat(name)) throw new FileError(name, `is of a kind that is not read; ${readHere().join(", ")} are`);
  if (!(Number.isInteger(at) && at >= 0)) throw new Refusal("invalid", "at: is the byte to go on from, a whole number");
  if (!(Number.isInteger(size) && size > 0))
    throw new Refusal("invalid", "size: is the file's length in bytes, above 0");
  if (!(Number.isInteger(until) && until >= at && until <= size))
    throw new Refusal("invalid", "until: is the byte after the last that is sent, at most the file's length");
  const isMovie = isMovieName(name);
  if (isMovie && !hasFfmpeg())
    throw new FileError(
      name,
      "is a movie, which the server reads through ffmpeg; it has none: let the browser decode it",
    );
  if (!isMovie && size > MAX_FILE)
    throw new FileError(name, "is larger than 1.5 GiB; put it under a footage root and name its folder");
  const target = join(batchFolder(batch), name);
  // The same file sent twice at once is one upload: the second finds it here.
  const passed = passWhatStands(target);
  await withLock(target, async () => {
    passed();
    if ((await sizeOf(target)) !== size) await append(name, target, piece, body);
    else await body?.cancel();
  });
  if ((await sizeOf(target)) !== size) return null;
  try {
    const found = await check(target, name);
    await withLock(target, () => keepContent(target));
    return found;
  } catch (error) {
    // What is no picture does not stay.
    if (error instanceof FileError) await rm(target, { force: true });
    throw error;
  }
}

/** Removes what is left of a batch once its frames are taken in. */
export const leave = (batch: string) => rm(batchFolder(batch), { recursive: true, force: true });

/** Gives a batch up: its files go, and content that nothing else uses with them. */
export async function giveUp(batch: string): Promise<void> {
  await leave(batch);
  await sweepContent();
}

const WAITS_DAYS = 3;
const DAY_MS = 86_400_000;

/** Clears away batches that nobody came back to. */
export async function sweepIntake(): Promise<void> {
  const folder = join(dataRoot(), "intake");
  const old = Date.now() - WAITS_DAYS * DAY_MS;
  for (const name of await readdir(folder).catch(() => []))
    if ((await stat(join(folder, name))).mtimeMs < old) await rm(join(folder, name), { recursive: true, force: true });
}
