import { readdirSync } from "node:fs";
import { join } from "node:path";
import { FileError } from "../../formats/error";
import { groupNames, parseStored, type Pattern } from "./sequence";

/** Whether a name stands for others: `*` for any signs, `?` for one. */
export const isGlob = (name: string): boolean => /[*?]/.test(name);

const matcher = (part: string) =>
  new RegExp(
    `^${part
      .replace(/[.+^${}()|[\]\\]/g, "\\$&")
      .replaceAll("*", ".*")
      .replaceAll("?", ".")}$`,
  );

const entriesOf = (folder: string) => {
  try {
    return readdirSync(/*turbopackIgnore: true*/ folder || ".", { withFileTypes: true });
  } catch {
    return [];
  }
};

/** Folders that the parts of a path lead to. */
function foldersFor(parts: readonly string[], from: string): string[] {
  const [part, ...rest] = parts;
  if (part === undefined) return [from];
  if (!isGlob(part)) return foldersFor(rest, from === "" && part === "" ? "/" : join(from, part));
  const isMeant = matcher(part);
  return entriesOf(from)
    .filter((entry) => entry.isDirectory() && isMeant.test(entry.name) && !entry.name.startsWith("."))
    .flatMap(({ name }) => foldersFor(rest, join(from, name)));
}

const MAX_TOLD = 4;

/**
 * The one sequence or file that a name with `*` or `?` stands for, in any folder; null where there is none. Throws
 * FileError where there are several, and names them.
 */
export function patternOfGlob(name: string): Pattern | null {
  const parts = name.split("/");
  const isMeant = matcher(parts.pop()!);
  const found = foldersFor(parts, "").flatMap((folder) => {
    const files = entriesOf(folder).filter((entry) => !entry.isDirectory() && isMeant.test(entry.name));
    const groups = groupNames(files.map((file) => file.name).filter((file) => !file.startsWith(".")));
    return groups.map(({ pattern }) => join(folder, pattern));
  });
  if (found.length > 1)
    throw new FileError(
      name,
      `stands for ${found.length} sequences; name one: ${found.slice(0, MAX_TOLD).join(", ")}${found.length > MAX_TOLD ? " …" : ""}`,
    );
  return found.length ? parseStored(found[0]!) : null;
}
