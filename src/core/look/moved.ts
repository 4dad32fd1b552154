import { workOf } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { LookAtFrame } from "./at-frame";
import { elementsOf, withElements } from "./edit";
import type { Look } from "./look";
import { withTaking } from "./taking";

/**
 * Only what moves the picture: its lens's distortion, its steadying, and the taking lens's distortion undone. By it a
 * lamp that was clipped before is not so anew.
 */
export function movedOnly(look: Look, { elements }: LookAtFrame): Look {
  const moving = elements.filter(({ kind, state }) => workOf(definitionOf(kind), state).kind === "geometry");
  const { taking } = look.camera;
  return withElements(
    withTaking(look, taking && { ...taking, transmission: 0, illumination: 0, contrast: 0 }),
    elementsOf(look).filter(({ id }) => moving.some((element) => element.id === id)),
  );
}

/** What moves the picture's places, all colours alike: where what has no colour (depth, mattes) belongs. */
export function placesOnly(look: Look, at: LookAtFrame): Look {
  const moved = movedOnly(look, at);
  const { taking } = moved.camera;
  return withElements(
    withTaking(moved, taking && { ...taking, lateralColour: 0 }),
    elementsOf(moved).filter(({ kind }) => kind !== "lateralColour"),
  );
}

/** Whether such a look moves anything at all. */
export const moves = ({ elements, context }: LookAtFrame): boolean =>
  elements.some(({ isActive }) => isActive) || context.taken !== null;
