import { elementsOf, switchElement, withElements } from "./edit";
import type { Look } from "./look";
import { withoutArea } from "./timed";

/** What a picture is compared with: the look without the selected element, or without the whole path. */
export type Scope = "element" | "path";

/** The light path up to an element, everywhere in the frame; the footage itself for the whole path (null). */
export function upTo(look: Look, id: string | null): Look {
  const { where: _, when, ...everywhere } = look;
  const index = id === null ? 0 : elementsOf(look).findIndex((element) => element.id === id);
  // What of the area is timed goes with it; a lens and an overall strength that are timed stay so.
  return withElements({ ...everywhere, when: withoutArea(when) }, elementsOf(look).slice(0, Math.max(0, index)));
}

/**
 * The light path up to the last of some elements and with it, and the same without them: their difference is what they
 * contribute together.
 */
export function contribution(look: Look, ids: readonly string[]): { look: Look; reference: Look } {
  const last = elementsOf(look).findLast(({ id }) => ids.includes(id))!;
  const before = upTo(look, last.id);
  const reference = elementsOf(before).filter(({ id }) => !ids.includes(id));
  return { look: withElements(before, [...elementsOf(before), last]), reference: withElements(before, reference) };
}

/** The look with one element alone: all others are off. */
export const alone = (look: Look, id: string): Look =>
  withElements(
    look,
    elementsOf(look).map((element) => (element.id === id ? element : { ...element, on: false })),
  );

/** The look without one element, or without all. */
export function without(look: Look, scope: Scope, id: string | null): Look {
  if (scope === "path") return withElements(look, []);
  return id === null ? look : switchElement(look, id, false);
}
