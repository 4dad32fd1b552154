import { appendFile, readFile, stat } from "node:fs/promises";
import { basename, join } from "node:path";
import { z } from "zod";
import { hashOf } from "../storage/content";
import type { Written } from "./output";

/**
 * What was written into a folder, one line of JSON a frame: its file, the recipe that made it, its length and hash. A
 * frame is whole, and made by a recipe, if the ledger says so and its bytes are still those. The last line about a file
 * counts; a line that a killed process wrote by half is no line.
 */
const FILE = ".halo-frames.jsonl";

const entrySchema = z.object({
  file: z.string(),
  recipe: z.string(),
  bytes: z.number().int().nonnegative(),
  sha256: z.string().length(64),
});
export type LedgerEntry = z.infer<typeof entrySchema>;

export interface Ledger {
  /** Whether a file is there as it was written, and was made by this recipe. */
  holds(path: string, recipe: string): Promise<boolean>;
  add(path: string, recipe: string, written: Written): Promise<void>;
  entries(): ReadonlyMap<string, LedgerEntry>;
}

/** Whether a file is there as an entry says. */
async function isAsEntered(file: string, entry: LedgerEntry | undefined, recipe: string): Promise<boolean> {
  if (entry?.recipe !== recipe) return false;
  const size = await stat(file).then(
    (found) => found.size,
    () => -1,
  );
  return size === entry.bytes && (await hashOf(file)) === entry.sha256;
}

const entryOf = (path: string, recipe: string, { size, sha256 }: Written): LedgerEntry => ({
  file: basename(path),
  recipe,
  bytes: size,
  sha256,
});

/** A ledger of entries that are kept elsewhere; what is added is told to whoever keeps them. */
export function ledgerOf(known: readonly LedgerEntry[]): Ledger {
  const entries = new Map(known.map((entry) => [entry.file, entry]));
  return {
    entries: () => entries,
    holds: (file, recipe) => isAsEntered(file, entries.get(basename(file)), recipe),
    async add(path, recipe, written) {
      const entry = entryOf(path, recipe, written);
      entries.set(entry.file, entry);
    },
  };
}

function entryIn(line: string): LedgerEntry | null {
  try {
    return entrySchema.parse(JSON.parse(line));
  } catch {
    return null;
  }
}

/** Opens the ledger of a folder; an empty one where there is none. */
export async function openLedger(folder: string): Promise<Ledger> {
  const path = join(folder, FILE);
  const lines = (await readFile(path, "utf8").catch(() => "")).split("\n");
  const found = lines.map(entryIn).filter((entry) => entry !== null);
  const entries = new Map(found.map((entry) => [entry.file, entry]));
  // A line begun and not ended is closed, so that the next one is whole.
  let ahead = lines.at(-1) ? "\n" : "";
  return {
    entries: () => entries,
    holds: (file, recipe) => isAsEntered(file, entries.get(basename(file)), recipe),
    async add(file, recipe, written) {
      const entry = entryOf(file, recipe, written);
      await appendFile(path, `${ahead}${JSON.stringify(entry)}\n`);
      ahead = "";
      entries.set(entry.file, entry);
    },
  };
}
