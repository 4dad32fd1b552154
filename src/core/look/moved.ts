import { workOf } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { LookAtFrame } from "./at-frame";
import { elementsOf, withElements } from "./edit";
import type { Look } from "./look";

/**
 * Only what moves the picture: its lens's distortion, its steadying. By it a lamp that was clipped before is not so
 * anew, and depth is where its picture is.
 */
export const movedOnly = (look: Look, { elements }: LookAtFrame): Look => {
  const moving = elements.filter(({ kind, state }) => workOf(definitionOf(kind), state).kind === "geometry");
  return withElements(
    look,
    elementsOf(look).filter(({ id }) => moving.some((element) => element.id === id)),
  );
};
