import { realpath, stat } from "node:fs/promises";
import { isAbsolute, join, relative, resolve, sep } from "node:path";
import { Refusal } from "../errors/errors";
import { footageRoots, type Root } from "../storage/named-roots";
import { dataRoot } from "../storage/roots";

/** Where files to take in lie: dropped together and sent, or in a folder under an allowed root. */
export type Location = { kind: "batch"; id: string } | { kind: "folder"; path: string };

const BATCH = /^[a-z0-9-]{8,64}$/;

/** A batch waits in a folder of its own until it is taken in, and leaves nothing behind. */
export function batchFolder(batch: string): string {
  if (!BATCH.test(batch)) throw new Refusal("invalid", "The batch has no proper name");
  return join(dataRoot(), "intake", batch);
}

/** In bytes: systems keep names of 255, and a part being written has a longer one. */
const MAX_NAME_LENGTH = 200;
const DEEPEST = 12;

/** A path inside a batch: names that are only names, however deep. */
export function checkPath(path: string[]): string {
  const proper = (name: string) =>
    name.length > 0 && Buffer.byteLength(name) <= MAX_NAME_LENGTH && !name.startsWith(".") && !/[\\/\0]/.test(name);
  if (!path.length || path.length > DEEPEST || !path.every(proper))
    throw new Refusal("invalid", `${path.join("/")}: is not a file name that can be taken in`);
  return path.join("/");
}

/** Roots that footage may be used from where it lies, by their real paths. */
export const realRoots = (): Promise<Root[]> =>
  Promise.all(footageRoots().map(async ({ name, path }) => ({ name, path: await realpath(path).catch(() => path) })));

const isInside = (root: string, path: string) => {
  const way = relative(root, path);
  return way === "" || (!way.startsWith(`..${sep}`) && way !== ".." && !isAbsolute(way));
};

/** The real path of a folder under an allowed root; anything else is refused, links that lead outside too. */
export async function allowedFolder(path: string): Promise<string> {
  const roots = footageRoots().map(({ path: own }) => own);
  if (!roots.length)
    throw new Refusal(
      "foreign",
      "No footage roots are set; start the application with HALO_FOOTAGE=/a/folder to use footage where it lies",
    );
  const outside = new Refusal("foreign", `${path}: lies outside the footage roots (${roots.join(", ")})`);
  if (!isAbsolute(path) || !roots.some((root) => isInside(root, resolve(path)))) throw outside;
  const real = await realpath(path).catch(() => {
    throw new Refusal("missing", `${path}: there is no such folder`);
  });
  if (!(await realRoots()).some((root) => isInside(root.path, real))) throw outside;
  if (!(await stat(real)).isDirectory()) throw new Refusal("invalid", `${path}: is a file; name its folder`);
  return real;
}

export const isUnderRoots = async (path: string): Promise<boolean> => {
  const real = await realpath(path).catch(() => null);
  return real !== null && (await realRoots()).some((root) => isInside(root.path, real));
};
