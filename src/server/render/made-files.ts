import type { Database } from "../../store/database";
import { framesMade } from "../../store/farm";
import type { Render } from "../../store/queries";
import { folderOf } from "./deliver";
import { openLedger } from "./ledger";

/** Length, bytes, and hash of a file as it was written. */
export interface MadeFile {
  bytes: number;
  sha256: string;
}

/**
 * The files of a render's frames as they were written, by their names: as the database says or, of renders of before, the
 * ledger in their folder.
 */
export async function filesMade(
  db: Database,
  render: Pick<Render, "id" | "folder">,
): Promise<ReadonlyMap<string, MadeFile>> {
  const rows = await framesMade(db, render.id);
  if (!rows.length) return (await openLedger(folderOf(render))).entries();
  return new Map(
    rows.flatMap(({ file, bytes, sha256 }) =>
      file !== null && bytes !== null && sha256 !== null ? [[file, { bytes, sha256 }]] : [],
    ),
  );
}
