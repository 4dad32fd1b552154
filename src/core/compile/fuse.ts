import { definitionOf } from "../elements/registry";
import { type ElementState, type Work, workOf } from "../elements/definition";
import { type GeometryTerms, joinTerms } from "../elements/geometry";
import { keepOperation, mixOperation, type PointOperation } from "../engine/pointwise";
import type { FrameContext } from "../frame/context";
import type { ElementAtFrame } from "../look/at-frame";
import type { Where } from "../where/schema";
import { recipeOf } from "./recipe";

/** A part of the light path that is done in one; `recipe`: everything its result depends on beside its input. */
export type PathPart = { recipe: string } & (
  | { kind: "within"; element: ElementAtFrame; where: Where }
  /** `context`: where it is not the path's own. */
  | { kind: "buffers"; work: Extract<Work, { kind: "buffers" }>; state: ElementState; context?: FrameContext }
  | { kind: "geometry"; terms: GeometryTerms; mix: number }
  | { kind: "point"; program: PointOperation[] }
);
type GeometryPart = Extract<PathPart, { kind: "geometry" }>;

/** One resampling does what two neighbours ask for, where it can. */
const joined = (before: PathPart | undefined, { terms, mix }: GeometryPart): GeometryTerms | null =>
  before?.kind === "geometry" && before.mix === 1 && mix === 1 ? joinTerms(before.terms, terms) : null;

/**
 * Whether a program keeps rows from one to the next: the scratch of a thread has room for one such operation
 * (assembly/grain.ts).
 */
const keepsRows = ({ program }: Extract<PathPart, { kind: "point" }>): boolean =>
  program.some(({ code }) => code === "grain");

/** What one element comes to by itself. */
function partOf({ state, where, ...element }: ElementAtFrame, context: FrameContext): PathPart {
  const recipe = recipeOf(state, context);
  if (where) {
    const free = { ...element, state, where: undefined };
    return { kind: "within", element: free, where, recipe: `${recipe} within ${JSON.stringify(where)}` };
  }
  const work = workOf(definitionOf(state.kind), state);
  if (work.kind === "buffers") return { kind: "buffers", work, state, recipe };
  if (work.kind === "geometry") return { kind: "geometry", terms: work.terms(state, context), mix: state.mix, recipe };
  const own = work.program(state, context);
  const program = state.mix === 1 ? [...own] : [keepOperation, ...own, mixOperation(state.mix)];
  return { kind: "point", program, recipe };
}

/**
 * Joins neighbours that can be done in one pass: pixel-local elements in one program, geometry in one resampling.
 * `apart` is not joined to what stands before it. `first`: parts that are done before them.
 */
export function fuse(
  elements: ElementAtFrame[],
  context: FrameContext,
  apart?: ElementAtFrame,
  first: readonly PathPart[] = [],
): PathPart[] {
  const parts: PathPart[] = [...first];
  for (const element of elements) {
    const part = partOf(element, context);
    const before = parts.at(-1);
    const terms = part.kind === "geometry" ? joined(before, part) : null;
    if (terms) {
      (before as GeometryPart).terms = terms;
      before!.recipe += `+${part.recipe}`;
    } else if (
      part.kind === "point" &&
      before?.kind === "point" &&
      element !== apart &&
      !(keepsRows(part) && keepsRows(before))
    ) {
      before.program.push(...part.program);
      before.recipe += `+${part.recipe}`;
    } else parts.push(part);
  }
  return parts;
}
