import { chmodSync, existsSync, mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { StartProblem } from "./roots";

/** Says whose folder it is; nothing is cleared away in a folder without it. */
const MARKER = ".pale-halo";
const MARKER_TEXT =
  "Data of Pale Halo: its database, footage, stills and renders. Remove it with the application's own means.\n";

/** What the application makes in its data folder. */
export const PARTS = ["database", "content", "footage", "intake", "renders", "stills"] as const;

/** Only the user who runs the application reads what it keeps. */
export const PRIVATE_FOLDER = 0o700;

/** What may lie in a folder that is otherwise empty: a volume's own, and hidden files. */
const isNothing = (name: string) => name.startsWith(".") || name === "lost+found" || name === "server.pid";

/**
 * Makes the data folder ready: made where it is not there (readable by its owner alone), unless it is only looked into;
 * marked as the application's own. Throws StartProblem where it is a file, cannot be made, or holds anything and is not
 * marked.
 */
export function prepareDataFolder(folder: string, { makes = true } = {}): void {
  try {
    if (!makes && !existsSync(folder)) throw new StartProblem(`${folder}: there is no such data folder`);
    if (!existsSync(folder)) mkdirSync(folder, { recursive: true, mode: PRIVATE_FOLDER });
    if (!statSync(folder).isDirectory()) throw new StartProblem(`${folder}: is a file; HALO_DATA names a folder`);
    if (!existsSync(join(folder, MARKER))) {
      // What is called as the application would call it may be somebody's footage and renders all the same.
      const foreign = readdirSync(folder).find((name) => !isNothing(name));
      if (foreign)
        throw new StartProblem(
          `${folder}: holds other things (${foreign}) and is not marked as Pale Halo's (${MARKER}); name an empty folder with HALO_DATA`,
        );
      writeFileSync(join(folder, MARKER), MARKER_TEXT);
    }
    if (existsSync(join(folder, "database"))) chmodSync(join(folder, "database"), PRIVATE_FOLDER);
  } catch (error) {
    if (error instanceof StartProblem) throw error;
    throw new StartProblem(
      `${folder}: cannot be used (${(error as NodeJS.ErrnoException).code}); name another folder with HALO_DATA`,
    );
  }
}

/** Clears away everything the application made in its data folder, and nothing else. */
export function clearDataFolder(folder: string): void {
  for (const part of PARTS) {
    const path = join(/*turbopackIgnore: true*/ folder, part);
    rmSync(/*turbopackIgnore: true*/ path, { recursive: true, force: true });
  }
}
