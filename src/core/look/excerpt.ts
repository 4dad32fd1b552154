import { elementsOf, switchElement, withElements } from "./edit";
import type { Look } from "./look";

/** What a picture is compared with: the look without the selected element, or without the whole path. */
export type Scope = "element" | "path";

/** The light path up to an element, everywhere in the frame; the footage itself for the whole path (null). */
export function upTo(look: Look, id: string | null): Look {
  const { where: _, when: __, ...everywhere } = look;
  const place = id === null ? 0 : elementsOf(look).findIndex((element) => element.id === id);
  return withElements(everywhere, elementsOf(look).slice(0, Math.max(0, place)));
}

/** The look without one element, or without all. */
export function without(look: Look, scope: Scope, id: string | null): Look {
  if (scope === "path") return withElements(look, []);
  return id === null ? look : switchElement(look, id, false);
}
