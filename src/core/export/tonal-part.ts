import { definitionOf } from "../elements/registry";
import type { LookAtFrame } from "../look/at-frame";
import { elementsOf, withElements } from "../look/edit";
import type { Look } from "../look/look";

/** An element that a table of colours cannot hold, and why. */
export interface LeftOut {
  id: string;
  /** Its name. */
  label: string;
  why: string;
}

/**
 * The part of a look that depends on no neighbour and no place: what is left of it when every other element is switched off. It is
 * taken as it is at the frame; what is timed in it, or differs from frame to frame, stands still in a table.
 */
export function tonalPart(look: Look, at: LookAtFrame): { look: Look; leftOut: LeftOut[] } {
  const leftOut: LeftOut[] = [];
  const kept = elementsOf(look).filter((element) => {
    const shown = at.elements.find(({ id }) => id === element.id);
    if (!shown?.isActive) return false;
    const { label, isTonal } = definitionOf(element.kind);
    const why = !isTonal
      ? "it depends on a pixel’s neighbours or its place"
      : element.where || look.where
        ? "it acts within an area"
        : null;
    if (why) leftOut.push({ id: element.id, label, why });
    return why === null;
  });
  const { where: _, ...everywhere } = look;
  return { look: withElements(everywhere, kept), leftOut };
}
