import { whereSchema, type Where } from "../where/schema";
import { elementNamed, whereOf, withWhere } from "./edit";
import type { Look } from "./look";
import { AREAS, type When } from "./timed";

/** Copied areas with what is timed in them; plain data, of no element and no shot. */
export interface AreaClip {
  where: Where;
  when: When;
}

const ownerOf = (look: Look, id: string | null): { when?: When } => (id === null ? look : elementNamed(look, id));

/** The areas of an element, or (null) of the whole path, to be put elsewhere; null where it acts everywhere. */
export function copiedAreas(look: Look, id: string | null): AreaClip | null {
  const where = whereOf(look, id);
  if (!where) return null;
  const when = Object.entries(ownerOf(look, id).when ?? {}).filter(([name]) => name.startsWith(AREAS));
  return { where, when: Object.fromEntries(when) };
}

/** An id that is not taken, as near as may be to the one wanted. */
function freeAmong(taken: ReadonlySet<string>, wanted: string): string {
  if (!taken.has(wanted)) return wanted;
  let number = 1;
  while (taken.has(`area-${number}`)) number++;
  return `area-${number}`;
}

/**
 * Puts copied areas behind those that are there, with what is timed in them; the first ones bring feather, strength and
 * limits along. What followed a track goes on following it where the look has it, and else stands still.
 */
export function pastedAreas(look: Look, id: string | null, clip: AreaClip): Look {
  const before = whereOf(look, id);
  const tracks = new Set((look.tracks ?? []).map((track) => track.id));
  const taken = new Set((before?.areas ?? []).map((area) => area.id));
  const named = clip.where.areas.map((area) => {
    const free = freeAmong(taken, area.id);
    taken.add(free);
    const follow = area.follow !== undefined && tracks.has(area.follow) ? area.follow : undefined;
    return { from: area.id, area: { ...area, id: free, follow } };
  });
  const areas = [...(before?.areas ?? []), ...named.map(({ area }) => area)];
  const where = whereSchema.parse({ ...(before ?? clip.where), areas });
  const timed = Object.entries(clip.when).flatMap(([name, value]) => {
    const [of, ...rest] = name.slice(AREAS.length).split(".");
    const found = named.find(({ from }) => from === of);
    return found ? [[`${AREAS}${[found.area.id, ...rest].join(".")}`, value] as const] : [];
  });
  const when = { ...ownerOf(look, id).when, ...Object.fromEntries(timed) };
  return withWhere(look, id, where, Object.keys(when).length ? when : undefined);
}
