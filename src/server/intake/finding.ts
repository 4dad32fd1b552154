import { readdir } from "node:fs/promises";
import { dirname, join } from "node:path";
import { between, gapsOf, type Ranges, rangesOf, framesIn } from "../../core/frame/ranges";
import type { Finding, FoundGroup } from "../../contract/intake";
import { FileError } from "../../formats/error";
import { describedFormat } from "../../formats/formats";
import { groupNames, type NameGroup } from "../footage/sequence";
import { Busy } from "../errors/errors";
import { check, type Checked } from "./check";
import { allowedFolder, batchFolder, isUnderRoots, type Location } from "./places";

export const rootOf = (location: Location): Promise<string> =>
  location.kind === "batch" ? Promise.resolve(batchFolder(location.id)) : allowedFolder(location.path);

const MAX_FILES = 100_000;
const AT_ONCE = 4;

async function filesUnder(root: string): Promise<string[]> {
  const entries = await readdir(root, { recursive: true, withFileTypes: true }).catch(() => []);
  return entries
    .filter((entry) => entry.isFile() || entry.isSymbolicLink())
    .map((entry) => join(entry.parentPath ?? entry.path, entry.name).slice(root.length + 1))
    .filter((path) => !path.split("/").some((name) => name.startsWith(".")) && !path.endsWith(".part"))
    .slice(0, MAX_FILES)
    .sort();
}

/** Reads every file and groups what is good; what is not is named with its reason. */
export async function findingOf(location: Location): Promise<Finding> {
  const root = await rootOf(location);
  const refused: Finding["refused"] = [];
  const good = new Map<string, Checked>();
  const look = async (path: string) => {
    try {
      if (location.kind === "folder" && !(await isUnderRoots(join(root, path))))
        throw new FileError(path, "leads outside the footage roots");
      if (!describedFormat(path)) throw new FileError(path, "is of a kind that is not read");
      return await check(join(root, path), path);
    } catch (error) {
      if (error instanceof Busy) throw error;
      refused.push({ name: path, reason: error instanceof FileError ? error.reason : (error as Error).message });
      return null;
    }
  };
  // A few at a time: as many as are read at once.
  const paths = await filesUnder(root);
  for (let i = 0; i < paths.length; i += AT_ONCE) {
    const some = paths.slice(i, i + AT_ONCE);
    const checked = await Promise.all(some.map(look));
    some.forEach((path, k) => checked[k] && good.set(path, checked[k]));
  }
  const folders = new Map<string, string[]>();
  for (const path of good.keys()) {
    const folder = dirname(path) === "." ? "" : dirname(path);
    if (!folders.has(folder)) folders.set(folder, []);
    folders.get(folder)!.push(path.slice(folder ? folder.length + 1 : 0));
  }
  const groups = [...folders].flatMap(([folder, names]) => groupNames(names).map((group) => ({ folder, group })));
  return { groups: groups.map(({ folder, group }) => describeGroup(folder, group, good, refused)), refused };
}

/** A sequence is as its first file is; files of another size or depth are refused by name. */
function describeGroup(
  folder: string,
  { pattern, files, frames }: NameGroup,
  good: Map<string, Checked>,
  refused: Finding["refused"],
): FoundGroup {
  const of = (name: string) => good.get(folder ? `${folder}/${name}` : name)!;
  const first = of(files[0]!);
  const fits = files.map((name) => {
    const { width, height, depth } = of(name);
    if (width === first.width && height === first.height && depth === first.depth) return true;
    refused.push({
      name: folder ? `${folder}/${name}` : name,
      reason: `is ${width}x${height}, ${depth}; its sequence is ${first.width}x${first.height}, ${first.depth}`,
    });
    return false;
  });
  const fitting = files.filter((_, i) => fits[i]);
  const numbers = fitting.length === 1 && first.frames > 1 ? between(1, first.frames) : numbersOf(frames, fits);
  return {
    ...first,
    folder,
    pattern,
    files: fitting,
    numbers,
    gaps: gapsOf(numbers),
    bytes: fitting.reduce((sum, name) => sum + of(name).bytes, 0),
  };
}

/** The numbers of the files that fit; files are in the order of their numbers. */
const numbersOf = (frames: Ranges, fits: boolean[]): Ranges =>
  rangesOf([...framesIn(frames)].filter((_, i) => fits[i]));
