/**
 * Folders outside the data folder that footage may be read from, and renders written to. One with a name may lie under
 * another path on every machine: what is kept says the name, and each machine says where it is.
 */
import { isAbsolute, join, relative, resolve, sep } from "node:path";
import { Refusal } from "../errors/errors";

export interface Root {
  /** Null for one that lies under the same path everywhere. */
  name: string | null;
  path: string;
}

const NAMED = /^([A-Za-z0-9][\w-]{0,39})=(\/.*)$/;

/** What a variable says: `/a/folder` or `NAME=/a/folder`, separated by colons. What is no absolute path is left out. */
export const rootsIn = (text: string): Root[] =>
  text.split(":").flatMap((entry): Root[] => {
    const [, name, path] = NAMED.exec(entry) ?? [];
    if (name && path) return [{ name, path: resolve(path) }];
    return isAbsolute(entry) ? [{ name: null, path: resolve(entry) }] : [];
  });

/** Where footage may be used from where it lies. */
export const footageRoots = (): Root[] => rootsIn(process.env.HALO_FOOTAGE ?? "");
/** Where renders may go, beside the data folder: those with names. */
export const renderRoots = (): Root[] =>
  rootsIn(process.env.HALO_RENDER_ROOTS ?? "").filter(({ name }) => name !== null);

/** How a place under a named root is kept: `root:NAME/path`. */
const PREFIX = "root:";

export const underRoot = (name: string, path: string): string => `${PREFIX}${join(name, path)}`;

/** Whether a kept folder lies outside the data folder. */
export const liesElsewhere = (kept: string): boolean => isAbsolute(kept) || kept.startsWith(PREFIX);

/** A folder as it is kept: by the name of the root it lies under, or as it is. */
export function keptFolder(roots: readonly Root[], path: string): string {
  const root = roots.find((one) => one.name !== null && !relative(one.path, path).split(sep).includes(".."));
  return root ? underRoot(root.name!, relative(root.path, path)) : path;
}

/**
 * Where a kept folder lies on this machine. `inData`: the folder that one without a root lies in. `variable`: what names
 * the roots. Throws Refusal for a root that this machine does not name.
 */
export function placeOf(kept: string, roots: readonly Root[], inData: string, variable: string): string {
  if (isAbsolute(kept)) return kept;
  if (!kept.startsWith(PREFIX)) return join(inData, kept);
  const [name = "", ...rest] = kept.slice(PREFIX.length).split("/");
  const root = roots.find((one) => one.name === name);
  if (!root)
    throw new Refusal(
      "missing",
      `The root ${name} is not named on this machine; say where it is: ${variable}=${name}=/…`,
    );
  return join(root.path, ...rest);
}
