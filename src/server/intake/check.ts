import { steadyNow } from "../waiting/clock";
import { LRUCache } from "lru-cache";
import { stat } from "node:fs/promises";
import { isMovieName } from "../../core/image/movies";
import { readers } from "../readers/pool";
import type { Checked } from "../readers/tasks";

export type { Checked } from "../readers/tasks";

const seen = new LRUCache<string, Checked>({ max: 50_000 });

/** What reading a file of unknown size may take in memory: this many times its own, and at least so much, bytes. */
const READING = 8;
const LEAST = 128 * 2 ** 20;
/** What the first frame of a movie may take, bytes. */
const MOVIE = 512 * 2 ** 20;
const WAITS_MS = 300_000;

/** Reads a file whole, once for its size and time. Throws FileError, naming the file as `name`. */
export async function check(path: string, name: string): Promise<Checked> {
  const { size, mtimeMs, ino } = await stat(path);
  const key = [ino, size, mtimeMs].join(" ");
  const before = seen.get(key);
  if (before) return before;
  const weight = isMovieName(name) ? MOVIE : Math.max(LEAST, READING * size);
  // Taking in waits as long as it takes: a large folder is read a few files at a time.
  const until = steadyNow() + WAITS_MS;
  const found = await readers().run("check", { path, name }, { key: `check ${key} ${name}`, name, weight, until });
  seen.set(key, found);
  return found;
}
