import { z } from "zod";
import { filterSchema, type FilterProfile } from "./filter";
import type { Transform } from "../colour/transform/transform";
import { lensSchema, type LensProfile } from "./lens";

export type Profile = LensProfile | FilterProfile;
export { filterSchema, lensSchema, type FilterProfile, type LensProfile };

export const profileSchema = z.discriminatedUnion("format", [lensSchema, filterSchema]);

/** The profiles and view tables a look may name, by id. */
export interface Cabinet {
  lenses: Map<string, LensProfile>;
  filters: Map<string, FilterProfile>;
  tables: Map<string, Transform>;
}

/** The id under which an earlier revision of a profile is named. */
export const pinnedId = (id: string, revision: number): string => `${id}@${revision}`;

/** The profile that an id names, of whatever revision. */
export const profileIdOf = (id: string): string => id.split("@")[0]!;

/** The profiles to choose from, each once: earlier revisions only where one is chosen. */
export const offered = <T extends Profile>(all: Iterable<T>, chosen?: string): T[] =>
  [...new Map([...all].map((profile) => [profile.id, profile])).values()].filter(
    ({ id }) => id === profileIdOf(id) || id === chosen,
  );

/** A cabinet that also answers to profiles' names. */
export function cabinetOf(profiles: Iterable<Profile>, tables: Iterable<readonly [string, Transform]> = []): Cabinet {
  const cabinet: Cabinet = { lenses: new Map(), filters: new Map(), tables: new Map(tables) };
  const all = [...profiles];
  // Ids last: a name that is another's id does not take its place.
  for (const key of ["name", "id"] as const)
    for (const profile of all) {
      const shelf = profile.format === "pale-halo-lens" ? cabinet.lenses : cabinet.filters;
      (shelf as Map<string, Profile>).set(profile[key], profile);
    }
  return cabinet;
}
