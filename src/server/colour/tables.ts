import type { Look } from "../../core/look/look";
import type { Database } from "../../store/database";
import { findTable, listTables, putTable } from "../../store/queries";
import { inTurn } from "../storage/turn";
import { readTable } from "./own-encoding";

/** The table a look is seen through, whole; none where it is seen without one, or it is not there. */
export async function tablesFor(
  db: Database,
  { view }: Pick<Look, "view">,
): Promise<{ id: string; file: string; text: string }[]> {
  const found = view.kind === "lut" && view.lut ? await findTable(db, view.lut) : undefined;
  return found ? [{ id: found.id, file: found.file, text: found.text }] : [];
}

const LONGEST_ID = 60;

/** What a file's name is as an id: letters, digits and dashes. */
const slugOf = (file: string) =>
  file
    .toLowerCase()
    .replace(/\.[^.]+$/, "")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, LONGEST_ID) || "table";

/**
 * Keeps a `.cube` or CLF file for views. One of the same file name is replaced; one whose name only becomes the same id keeps it, and
 * the new one gets a number. Throws FileError for what is no table.
 */
export const keepTable = (
  db: Database,
  file: string,
  text: string,
): Promise<{ id: string; name: string; file: string }> =>
  inTurn("tables", async () => {
    const { name } = readTable(file, text);
    const all = await listTables(db);
    const taken = new Set(all.filter((entry) => entry.file !== file).map(({ id }) => id));
    const own = all.find((entry) => entry.file === file)?.id;
    let id = own ?? slugOf(file);
    for (let number = 2; taken.has(id); number++) id = `${slugOf(file)}-${number}`;
    await putTable(db, { id, name, file, text });
    return { id, name, file };
  });
