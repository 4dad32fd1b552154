import { definitionOf } from "../elements/registry";
import type { LensProfile } from "../profile/profiles";
import { atFrame, whereAt } from "../when/when";
import type { Where } from "../where/schema";
import { heldParameters, heldWhere, within } from "./bounds";
import { LARGEST_STRENGTH, type Look, type LookElement, resolveElement } from "./look";

/** A look as it is at a frame: everything that is timed has its value there, within its range. */
export interface LookAtFrame {
  elements: LookElement[];
  /** The area of the whole path. */
  where: Where | undefined;
}

/** An element at a frame. What a look leaves out, and noise is added to, is what the lens measured, or the definition's default. */
function elementAt(element: LookElement, lens: LensProfile | null, frame: number, frameRate: number): LookElement {
  if (!element.when) return element;
  const { parameters, negative } = definitionOf(element.kind);
  const { values } = resolveElement(element, lens);
  const { strength, mix, params, where, ...rest } = atFrame(element, frame, frameRate, values);
  return {
    ...rest,
    strength: within(strength, negative ? -LARGEST_STRENGTH : 0, LARGEST_STRENGTH),
    mix: within(mix, 0, 1),
    params: heldParameters(params, parameters),
    ...(where ? { where: heldWhere(where) } : {}),
  };
}

/** Resolves what is timed in a look. `frameRate`: frames a second. */
export function lookAt(look: Look, lens: LensProfile | null, frame: number, frameRate: number): LookAtFrame {
  const { where, when } = look;
  return {
    elements: (look.elements as LookElement[]).map((element) => elementAt(element, lens, frame, frameRate)),
    where: where && when ? heldWhere(whereAt(where, when, frame, frameRate)) : where,
  };
}
