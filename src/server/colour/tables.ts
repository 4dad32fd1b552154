import type { Look } from "../../core/look/look";
import type { Database } from "../../store/database";
import { findTable, listTables, putTable } from "../../store/colour";
import { withLock } from "../storage/turn";
import type { ViewTable } from "../readers/tasks";
import type { Deadline } from "../waiting/gate";
import { checkTable } from "./read-table";
import { sharedText } from "../readers/shared-text";

/** The table a look is seen through, whole; none where it is seen without one, or it is not there. */
export async function tablesFor(
  db: Database,
  { view }: Pick<Look, "view">,
): Promise<{ id: string; file: string; text: string }[]> {
  const found = view.kind === "lut" && view.lut ? await findTable(db, view.lut) : undefined;
  return found ? [{ id: found.id, file: found.file, text: found.text }] : [];
}

/** As threads that read pictures are told of it. */
export async function viewTablesFor(db: Database, look: Pick<Look, "view">): Promise<ViewTable[]> {
  const id = look.view.kind === "lut" ? look.view.lut : undefined;
  const found = id ? await findTable(db, id) : undefined;
  return found ? [viewTable(found, found.digest)] : [];
}

/** A table that is kept with a render, or in the library. */
export const viewTable = (
  { id, file, text }: { id: string; file: string; text: string },
  revision: string,
): ViewTable => ({ id, file, revision, text: sharedText(text) });

const MAX_ID_LENGTH = 60;

/** What a file's name is as an id: letters, digits and dashes. */
const slugOf = (file: string) =>
  file
    .toLowerCase()
    .replace(/\.[^.]+$/, "")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, MAX_ID_LENGTH) || "table";

/**
 * Keeps a `.cube` or CLF file for views. One of the same file name is replaced; one whose name only becomes the same id
 * keeps it, and the new one gets a number. Throws FileError for what is no table.
 */
export const keepTable = (
  db: Database,
  file: string,
  text: string,
  deadline: Deadline,
): Promise<{ id: string; name: string; file: string }> =>
  withLock("tables", async () => {
    const name = await checkTable(file, text, deadline);
    const all = await listTables(db);
    const taken = new Set(all.filter((entry) => entry.file !== file).map(({ id }) => id));
    const own = all.find((entry) => entry.file === file)?.id;
    let id = own ?? slugOf(file);
    for (let number = 2; taken.has(id); number++) id = `${slugOf(file)}-${number}`;
    await putTable(db, { id, name, file, text });
    return { id, name, file };
  });
