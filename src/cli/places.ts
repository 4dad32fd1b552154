import { existsSync, mkdirSync, realpathSync, rmSync, statSync, writeFileSync } from "node:fs";
import { basename, dirname, join, resolve } from "node:path";
import { sweepAbandoned } from "../server/storage/files";
import { UsageError } from "./options";

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code ?? "unknown";

/**
 * Makes the folder that output goes into, and makes sure that something can be written there. One folder after another:
 * the system's own way to make several at once never ends where none can be made.
 * A dry run makes nothing. Throws UsageError that names the option.
 */
export function prepareOutput(option: string, folder: string, dryRun = false): void {
  if (dryRun) return;
  const missing: string[] = [];
  for (let path = resolve(folder); !existsSync(path); path = dirname(path)) missing.unshift(path);
  try {
    for (const path of missing) mkdirSync(path);
    if (!statSync(folder).isDirectory()) throw new UsageError(`${option}: ${folder} is a file, not a folder`);
    const probe = join(folder, `.halo-probe-${process.pid}`);
    writeFileSync(probe, "");
    rmSync(probe);
    sweepAbandoned(folder);
  } catch (error) {
    if (error instanceof UsageError) throw error;
    throw new UsageError(`${option}: nothing can be written in ${folder} (${codeOf(error)}); name another folder`);
  }
}

/**
 * What a path really is: the file it leads to, or for one that is not there yet, its name in the folder it leads to.
 */
function identityOf(path: string): string {
  const found = existsSync(path) && statSync(path);
  if (found) return `${found.dev} ${found.ino}`;
  const folder = dirname(resolve(path));
  return join(existsSync(folder) ? realpathSync(folder) : folder, basename(path));
}

/**
 * Makes sure that nothing that is written is something that is read, by whatever path: links, `..`, absolute or not.
 * Throws UsageError before anything is written.
 */
export function refuseOverwriting(
  option: string,
  written: Iterable<string>,
  read: Iterable<{ path: string; what: string }>,
): void {
  const inputs = new Map<string, { path: string; what: string }>();
  for (const input of read) if (existsSync(input.path)) inputs.set(identityOf(input.path), input);
  for (const path of written) {
    const input = inputs.get(identityOf(path));
    if (input)
      throw new UsageError(
        `${option} ${path}: would write over ${input.what} ${input.path}, which is never modified; name another place`,
      );
  }
}
