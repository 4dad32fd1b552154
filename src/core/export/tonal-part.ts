import { definitionOf } from "../elements/registry";
import type { LookAtFrame } from "../look/at-frame";
import { elementsOf, withElements } from "../look/edit";
import type { Look, LookElement } from "../look/look";
import { type Taking, TAKING_PARTS, withTaking } from "../look/taking";
import type { Values } from "../elements/definition";

/** An element that a table of colours cannot hold, and why. */
export interface LeftOut {
  id: string;
  /** Its name. */
  label: string;
  why: string;
}

const BY_NEIGHBOURS = "it depends on a pixel’s neighbours or its place";

/** An element with values in place of its own, and nothing that moves them. */
function without(element: LookElement, values: Values): LookElement {
  const when = Object.entries(element.when ?? {}).filter(([name]) => !(name in values));
  return {
    ...element,
    params: { ...element.params, ...values },
    when: when.length ? Object.fromEntries(when) : undefined,
  };
}

/** A taking lens of which only what depends on no neighbour and no place is taken off: its colour. */
const colourOnly = (taking: Taking): Taking => ({
  ...taking,
  ...Object.fromEntries(TAKING_PARTS.filter((part) => part !== "transmission").map((part) => [part, 0])),
});

/** The look with what of its taking lens a table holds; all over the frame alone, as the path's area says. */
function withTonalTaking(look: Look, leftOut: LeftOut[]): Look {
  const { taking } = look.camera;
  if (!taking) return look;
  const tonal = colourOnly(taking);
  const label = "Taking lens";
  if (look.where) leftOut.push({ id: "taking", label, why: "it acts within an area" });
  else if (TAKING_PARTS.some((part) => taking[part] !== tonal[part]))
    leftOut.push({ id: "taking", label: `${label}, all but its colour`, why: BY_NEIGHBOURS });
  return withTaking(look, look.where ? undefined : tonal);
}

/**
 * The part of a look that depends on no neighbour and no place: what is left of it when every other element is switched
 * off. It is taken as it is at the frame; what is timed in it, or differs from frame to frame, stands still in a table.
 */
export function tonalPart(look: Look, at: LookAtFrame): { look: Look; leftOut: LeftOut[] } {
  const leftOut: LeftOut[] = [];
  const tonal = elementsOf(look).flatMap((element) => {
    const shown = at.elements.find(({ id }) => id === element.id);
    if (!shown?.isActive) return [];
    const { label, isTonal, beyondTone } = definitionOf(element.kind);
    const why = !isTonal ? BY_NEIGHBOURS : element.where || look.where ? "it acts within an area" : null;
    if (why) leftOut.push({ id: element.id, label, why });
    if (why) return [];
    if (!beyondTone?.has(shown.state.values)) return [element];
    leftOut.push({ id: element.id, label: beyondTone.label, why: BY_NEIGHBOURS });
    return [without(element, beyondTone.without as Values)];
  });
  const { where: _, ...everywhere } = withTonalTaking(look, leftOut);
  return { look: withElements(everywhere, tonal), leftOut };
}
