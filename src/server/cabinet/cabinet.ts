/** The cabinet of lenses and filters: one's own are kept, changed and removed; what ships stays as it is. */
import type { CabinetEntry } from "../../contract/cabinet";
import { glassIn, withGlassNamed } from "../../core/look/glass";
import type { Look } from "../../core/look/look";
import { pinnedId, type Profile, profileIdOf } from "../../core/profile/profiles";
import type { Database } from "../../store/database";
import {
  changeProfile,
  findProfile,
  keepProfile,
  listProfiles,
  removeProfile,
  type StoredProfile,
} from "../../store/profiles";
import { looksThatUse } from "../../store/uses";
import { notFound, Refusal } from "../errors/errors";

/** Profiles there may be, and the numbers that are tried for one whose id is taken. */
const MAX_PROFILES = 2000;
const MAX_NUMBER = 1000;
const MAX_ID_LENGTH = 56;

const entryOf = ({ body, shipped, copiedFrom, revision }: StoredProfile): CabinetEntry => ({
  profile: body,
  shipped,
  copiedFrom,
  revision,
});

export const cabinetEntries = async (db: Database): Promise<CabinetEntry[]> => (await listProfiles(db)).map(entryOf);

/** Keeps a profile. Its id gets a number where it is taken. Throws Refusal where the cabinet is full. */
export async function keepInCabinet(db: Database, profile: Profile, copiedFrom: string | null): Promise<CabinetEntry> {
  if ((await listProfiles(db)).length >= MAX_PROFILES)
    throw new Refusal("conflict", `The cabinet holds ${MAX_PROFILES} profiles; remove some first`);
  const stem = profileIdOf(profile.id).slice(0, MAX_ID_LENGTH);
  for (let number = 1; number < MAX_NUMBER; number++) {
    const id = number === 1 ? stem : `${stem}-${number}`;
    const stored = await keepProfile(db, { ...profile, id }, copiedFrom);
    if (stored) return entryOf(stored);
  }
  throw new Refusal("conflict", `There are ${MAX_NUMBER} profiles called ${stem}; give it another id`);
}

const shipsWith = ({ name }: StoredProfile) =>
  new Refusal("conflict", `“${name}” ships with the application and stays as it is; duplicate it and change the copy`);

/** A profile of one's own. Throws Refusal where it is none, or not there. */
async function ownProfile(db: Database, id: string): Promise<StoredProfile> {
  const found = await findProfile(db, id);
  if (!found) throw notFound(`The profile ${id}`);
  if (found.shipped) throw shipsWith(found);
  return found;
}

/** Throws Refusal (409) where another revision stands there by now, and for what ships with the application. */
export async function changeInCabinet(
  db: Database,
  id: string,
  profile: Profile,
  revision: number,
): Promise<CabinetEntry> {
  const own = await ownProfile(db, id);
  if (own.body.format !== profile.format)
    throw new Refusal("invalid", `profile.format: is ${own.body.format}, as it was; a lens does not become a filter`);
  const changed = await changeProfile(db, id, profile, revision);
  if (changed) return entryOf(changed);
  const standing = await ownProfile(db, id);
  throw new Refusal(
    "conflict",
    `“${standing.name}” was changed in another window; it is at revision ${standing.revision}`,
    {
      entry: entryOf(standing),
    },
  );
}

/** What uses a profile, in any of its revisions: shots, versions, stills, looks of the library, renders to be made. */
export async function usesOfProfile(db: Database, { id, name }: StoredProfile): Promise<string[]> {
  const using = await looksThatUse(db, ({ glass = [] }) =>
    glass.some((named) => profileIdOf(named) === id || named === name),
  );
  const WORDS: Record<(typeof using)[number]["in"], (look: (typeof using)[number]) => string> = {
    shot: ({ shotId }) => shotId!,
    version: ({ shotId }) => `a version of ${shotId}`,
    still: (still) => `still ${still.id}`,
    library: (look) => `the look “${look.name}”`,
    render: (render) => `render ${render.id}`,
  };
  return [...new Set(using.map((look) => WORDS[look.in](look)))];
}

/** Throws Refusal where something uses it. */
export async function removeFromCabinet(db: Database, id: string): Promise<void> {
  const own = await ownProfile(db, id);
  const usedBy = await usesOfProfile(db, own);
  if (usedBy.length)
    throw new Refusal("conflict", `“${own.name}” is used by ${usedBy.join(", ")}; choose other glass there first`, {
      usedBy,
    });
  await removeProfile(db, id);
}

/** Revisions of the profiles that a look names, by their ids: what a version is kept with. */
export async function revisionsIn(db: Database, look: Look): Promise<Record<string, number>> {
  const named = new Set(glassIn(look));
  const used = (await listProfiles(db)).filter(({ id, name }) => named.has(id) || named.has(name));
  return Object.fromEntries(used.map(({ id, revision }) => [id, revision]));
}

/** The look of a version with the glass it was kept with: what was changed since is named with its revision. */
export async function asKept(db: Database, look: Look, glass: Record<string, number>): Promise<Look> {
  const changed = (await listProfiles(db)).filter(
    ({ id, revision }) => glass[id] !== undefined && glass[id] < revision,
  );
  return withGlassNamed(look, (named) => {
    const one = changed.find(({ id, name }) => named === id || named === name);
    return one && pinnedId(one.id, glass[one.id]!);
  });
}
