import { createHash } from "node:crypto";
import type { Correction } from "../../core/colour/correction";
import type { Database } from "../../store/database";
import { findTable } from "../../store/colour";
import { readers } from "../readers/pool";
import type { Deadline } from "../waiting/gate";
import { notFound } from "../errors/errors";
import { sharedText } from "../readers/shared-text";

/** What is read of texts, by a thread of its own: the server answers others meanwhile. */

/** What parsing takes in memory, against its text. */
const PARSING = 24;
const keyOf = (file: string, text: string) => `${file} ${createHash("sha256").update(text).digest("hex")}`;

/** A table as steps of the transform, with its own name. `revision` stands for file and text. */
const transformOf = (file: string, text: string, revision: string, deadline: Deadline) =>
  readers().run(
    "transform",
    { table: { file, revision, text: sharedText(text) } },
    { key: `transform ${revision}`, name: file, weight: text.length * PARSING, ...deadline },
  );

/** A table's own name. Throws FileError where the text is no table. */
export async function checkTable(file: string, text: string, deadline: Deadline): Promise<string> {
  return (await transformOf(file, text, keyOf(file, text), deadline)).name;
}

/** A kept table as steps in JSON, for the engine in the browser. Throws Refusal where there is none. */
export async function plainTable(db: Database, id: string, deadline: Deadline): Promise<Uint8Array<ArrayBuffer>> {
  const found = await findTable(db, id);
  if (!found) throw notFound(`The table ${id}`);
  return (await transformOf(found.file, found.text, found.digest, deadline)).json;
}

/** ASC CDL: text to corrections. Throws FileError. */
export const readCorrections = (file: string, text: string, deadline: Deadline): Promise<Correction[]> =>
  readers().run(
    "corrections",
    { file, text },
    { key: `corrections ${keyOf(file, text)}`, name: file, weight: text.length * PARSING, ...deadline },
  );
