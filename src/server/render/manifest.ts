/** What lies in a render's folder: every file with its length and hash, for who is handed it. */
import { readdir, stat } from "node:fs/promises";
import { join } from "node:path";
import type { RenderManifest } from "../../contract/deliveries";
import type { Database } from "../../store/database";
import type { Render } from "../../store/queries";
import { hashOf } from "../storage/content";
import { UNFINISHED } from "../storage/files";
import { folderOf, stemOf } from "./deliver";
import { filesMade } from "./made-files";
import { withoutFrame } from "../../contract/naming";

/** Of frames the hash is the one they had when they were written; of all other files it is that of what lies there. */
export async function manifestOf(db: Database, render: Render): Promise<RenderManifest> {
  const folder = folderOf(render);
  const names = (await readdir(folder).catch(() => [] as string[])).filter(
    (name) => !name.startsWith(".") && !name.endsWith(UNFINISHED),
  );
  const entries = await filesMade(db, render);
  const files = await Promise.all(
    names.sort().map(async (file) => {
      const path = join(folder, file);
      const known = entries.get(file);
      const { size } = await stat(path);
      return { file, bytes: size, sha256: known?.bytes === size ? known.sha256 : await hashOf(path) };
    }),
  );
  return {
    render: render.id,
    shot: withoutFrame(stemOf(render)),
    version: render.versionName,
    state: render.state,
    files,
  };
}
