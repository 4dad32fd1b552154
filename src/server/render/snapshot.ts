import { glassIn, platesIn } from "../../core/look/glass";
import type { Look } from "../../core/look/look";
import { tablesFor } from "../colour/tables";
import type { Database } from "../../store/database";
import { findOwnEncoding } from "../../store/colour";
import { allProfiles } from "../../store/profiles";
import { findShot } from "../../store/queries";
import type { KeptShot, RenderSnapshot } from "../../store/schema/schema";

/** Shots that a look lays over others; one that is gone is left out, and its frames fail by name. */
async function platesOf(db: Database, look: Look): Promise<({ name: string } & KeptShot)[]> {
  const names = [...new Set(platesIn(look))];
  const found = await Promise.all(names.map(async (name) => ({ name, found: await findShot(db, name) })));
  return found.flatMap(({ name, found }) => (found ? [{ name, shot: found.shot, footage: found.footage }] : []));
}

/** What a render of a look takes by name, as it stands now: its glass, encodings and table. */
export async function snapshotOf(
  db: Database,
  look: Look,
  { shot, footage }: KeptShot,
  outEncoding: string | null,
): Promise<Required<RenderSnapshot>> {
  const { encoding } = shot;
  const glass = new Set(glassIn(look));
  const plates = await platesOf(db, look);
  const codes = new Set([encoding, outEncoding, ...plates.map((plate) => plate.shot.encoding)]);
  const profiles = await allProfiles(db);
  const encodings = await Promise.all([...codes].map((id) => (id ? findOwnEncoding(db, id) : undefined)));
  return {
    own: { shot, footage },
    plates,
    profiles: profiles.filter(({ id, name }) => glass.has(id) || glass.has(name)),
    encodings: encodings.filter((body) => body !== undefined),
    tables: await tablesFor(db, look),
    encoding,
  };
}
