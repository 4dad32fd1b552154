import { filterOf, platesIn } from "../../core/look/glass";
import type { Look, LookElement } from "../../core/look/look";
import { tablesFor } from "../colour/tables";
import type { Database } from "../../store/database";
import { findShot, listEncodings, listProfiles } from "../../store/queries";
import type { RenderSnapshot } from "../../store/schema";

/** What a render of a look takes by name, as it stands now: its glass, encodings and table. */
export async function snapshotOf(
  db: Database,
  look: Look,
  encoding: string,
  outEncoding: string | null,
): Promise<RenderSnapshot> {
  const glass = new Set([look.lens.profile, ...(look.elements as LookElement[]).map(filterOf)]);
  const plates = await Promise.all(platesIn(look).map((id) => findShot(db, id)));
  const codes = new Set([encoding, outEncoding, ...plates.map((found) => found?.shot.encoding)]);
  const profiles = await listProfiles(db);
  const encodings = await listEncodings(db);
  return {
    profiles: profiles.filter(({ id, name }) => glass.has(id) || glass.has(name)).map(({ body }) => body),
    encodings: encodings.filter(({ id }) => codes.has(id)).map(({ body }) => body),
    tables: await tablesFor(db, look),
    encoding,
  };
}
