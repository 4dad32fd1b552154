import { filterSchema, type FilterProfile } from "./filter";
import { lensSchema, type LensProfile } from "./lens";

export type Profile = LensProfile | FilterProfile;
export { filterSchema, lensSchema, type FilterProfile, type LensProfile };

/** The profiles a look may name, by id. */
export interface Cabinet {
  lenses: Map<string, LensProfile>;
  filters: Map<string, FilterProfile>;
}

/** A cabinet that also answers to profiles' names. */
export function cabinetOf(profiles: Iterable<Profile>): Cabinet {
  const cabinet: Cabinet = { lenses: new Map(), filters: new Map() };
  for (const profile of profiles) {
    const shelf = profile.format === "pale-halo-lens" ? cabinet.lenses : cabinet.filters;
    for (const key of [profile.id, profile.name]) (shelf as Map<string, Profile>).set(key, profile);
  }
  return cabinet;
}
