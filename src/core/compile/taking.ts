/** What the lens the footage was shot through did to it, undone: the parts of a path before its first element. */
import { definitionOf } from "../elements/registry";
import { illuminationGain } from "../elements/illumination/illumination";
import { type ElementState, type Values, workOf } from "../elements/definition";
import { transmissionAt } from "../elements/transmission/transmission";
import { matrixOperation, type PointOperation } from "../engine/pointwise";
import type { FrameContext } from "../frame/context";
import { invert } from "../maths/matrix";
import type { LookAtFrame } from "../look/at-frame";
import { type Look, resolveElement } from "../look/look";
import { takenLens, type Taking, takingContext } from "../look/taking";
import type { PathPart } from "./fuse";
import { recipeOf } from "./recipe";

/** An element of the taking lens at a strength, as it stands in a path by itself. */
function stateOf(kind: string, strength: number, context: FrameContext, values: Values = {}): ElementState {
  const own = { id: `taking-${kind}`, kind, on: true, strength, mix: 1, params: values };
  return { ...resolveElement(own, context.lens), strength };
}

const recipe = (state: ElementState, context: FrameContext) => `taken off ${recipeOf(state, context)}`;

/** Light given back: the fall-off divided out, then the colour of the glass. */
function lightPart({ illumination, transmission }: Taking, overall: number, context: FrameContext): PathPart | null {
  const fallOff = stateOf("illumination", -illumination * overall, context);
  const colour = stateOf("transmission", transmission * overall, context);
  const work = workOf(definitionOf("illumination"), fallOff);
  const program: PointOperation[] = [];
  if (fallOff.strength && context.lens?.illumination?.length && work.kind === "point")
    program.push(...work.program(fallOff, context));
  if (colour.strength && context.lens?.transmission)
    program.push(matrixOperation(invert(transmissionAt(colour.strength, colour.values as never, context))));
  return program.length
    ? { kind: "point", program, recipe: `${recipe(fallOff, context)} ${recipe(colour, context)}` }
    : null;
}

/** Contrast brought back, as far as it may be raised. */
function contrastPart({ contrast, maxGain }: Taking, overall: number, context: FrameContext): PathPart | null {
  const state = stateOf("sharpness", -contrast * overall, context, { maxGain });
  const work = workOf(definitionOf("sharpness"), state);
  if (!state.strength || !context.lens?.mtf?.length || work.kind !== "buffers") return null;
  return { kind: "buffers", work, state, recipe: recipe(state, context), context };
}

/** Places where the lens had drawn them, so that they are fetched from there. */
function geometryPart(taking: Taking, overall: number, context: FrameContext): PathPart | null {
  const taken = takenLens(taking, overall, context);
  if (!taken) return null;
  const states = [
    stateOf("distortion", taking.distortion * overall, context),
    stateOf("lateralColour", taking.lateralColour * overall, context),
  ];
  return {
    kind: "geometry",
    terms: { taken },
    mix: 1,
    recipe: states.map((state) => recipe(state, context)).join(" "),
  };
}

/**
 * The parts that take a lens off, in the order in which they are done: light as the sensor had it, contrast, then
 * places, so that the wanted lens's own are done in the same resampling. `overall`: the look's strength.
 */
export function takingParts(taking: Taking | undefined, overall: number, context: FrameContext): PathPart[] {
  const own = taking && takingContext(taking, context);
  if (!own || !overall) return [];
  return [
    lightPart(taking, overall, own),
    contrastPart(taking, overall, own),
    geometryPart(taking, overall, own),
  ].filter((part) => part !== null);
}

/** Whether a look does anything to a frame's light: by an element, or by the lens that it takes off. */
export const actsOn = ({ camera: { taking } }: Look, { elements, strength, context }: LookAtFrame): boolean =>
  elements.some(({ isActive }) => isActive) || takingParts(taking, strength, context).length > 0;

/** The most that light is raised to undo a lens's fall-off, stops, at an image height (mm). */
export const stopsGivenBack = (taking: Taking, context: FrameContext, height: number): number => {
  const own = takingContext(taking, context);
  if (!own?.lens?.illumination?.length) return 0;
  return -Math.log2(illuminationGain(taking.illumination, { natural: false }, own)(height));
};
