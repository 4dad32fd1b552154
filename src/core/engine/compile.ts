import { definitionOf } from "../elements/registry";
import { type ElementState, type FrameContext, type Work, workOf } from "../elements/definition";
import { type GeometryTerms, joinTerms, planGeometry } from "../elements/geometry";
import { keyRecord } from "../elements/key";
import { lookAt } from "../look/at-frame";
import { type Look, type LookElement, resolveElement } from "../look/look";
import type { Cabinet } from "../profile/profiles";
import { displayOperations, viewOperations } from "../view/view";
import { planMatte } from "../where/plan";
import type { Where } from "../where/schema";
import { frameGeometry } from "./geometry";
import { keyAfter, type Plan, PlanBuilder } from "./plan";
import {
  addProgram,
  differenceOperation,
  keepOperation,
  mixOperation,
  scrubOperation,
  type PointOperation,
} from "./pointwise";

/** What a frame is compiled for. */
export interface FrameRequest {
  width: number;
  height: number;
  frame: number;
  /** Names the pixels of the source; equal keys mean equal pixels. */
  sourceKey: string;
  /** Whether the footage has a depth channel. */
  hasDepth?: boolean;
  /** Frames a second. */
  frameRate?: number;
  /** First and last frame of the shot: what lies outside is held. */
  shot?: { first: number; last: number };
}

/** Frames a second, where footage does not say. */
export const USUAL_RATE = 24;
/** How strongly an area is tinted over the picture. */
const OVERLAY = 0.55;

/** What is wanted of the compiled frame. */
export type Output =
  /** Working light. */
  | { kind: "light" }
  /** The look's view, RGBA float code values. */
  | { kind: "codes" }
  /** The look's view, RGBA 8-bit. */
  | { kind: "display" }
  /** Which light the key of an element takes, as seen at its place on the path, 8-bit. */
  | { kind: "matte"; element: string }
  /** The area an element, or (null) the whole path, acts on, as a matte or laid over the picture, 8-bit. */
  | { kind: "area"; element: string | null; over: boolean };

/** A part of the light path that is done in one; `recipe`: everything its result depends on beside its input. */
type Part = { recipe: string } & (
  | { kind: "within"; element: LookElement; where: Where }
  | { kind: "spread"; work: Extract<Work, { kind: "spread" }>; state: ElementState }
  | { kind: "geometry"; terms: GeometryTerms; mix: number }
  | { kind: "point"; program: PointOperation[] }
);

export function frameContext(
  look: Look,
  cabinet: Cabinet,
  { width, height, frame, hasDepth = false, frameRate = USUAL_RATE, shot }: FrameRequest,
): FrameContext {
  const { camera, lens } = look;
  return {
    geometry: frameGeometry(width, height, camera.sensor, camera.squeeze),
    frame,
    cabinet,
    lens: (lens.profile && cabinet.lenses.get(lens.profile)) || null,
    focalLength: lens.focalLength,
    stop: lens.stop,
    focusDistance: lens.focusDistance,
    hasDepth: hasDepth || look.depth !== undefined,
    depthPlate: look.depth ?? null,
    frameRate,
    shot: shot ?? { first: frame, last: frame },
  };
}

/** An element with nothing to do is left out of the path, which makes strength 0, mix 0 and off exactly no change. */
export const acts = ({ on, strength, mix }: LookElement) => on && strength !== 0 && mix !== 0;

/**
 * Joins neighbours that can be done in one pass: pixel-local elements in one program, geometry in one resampling. `apart` is not
 * joined to what stands before it.
 */
function fuse(elements: LookElement[], context: FrameContext, apart?: LookElement): Part[] {
  const parts: Part[] = [];
  for (const element of elements) {
    const definition = definitionOf(element.kind);
    const { where, ...free } = element;
    const state = resolveElement(free, context.lens);
    if (definition.lacks?.(state, context)) continue;
    const recipe = recipeOf(state, context);
    if (where) {
      parts.push({ kind: "within", element: free, where, recipe: `${recipe} within ${JSON.stringify(where)}` });
      continue;
    }
    const work = workOf(definition, state);
    const last = parts.at(-1);
    if (work.kind === "spread") parts.push({ kind: "spread", work, state, recipe });
    else if (work.kind === "geometry") {
      const terms = work.terms(state, context);
      const joins =
        last?.kind === "geometry" &&
        last.mix === 1 &&
        state.mix === 1 &&
        Object.keys(terms).every((key) => !(key in last.terms));
      if (joins) {
        last.terms = joinTerms([last.terms, terms]);
        last.recipe += `+${recipe}`;
      } else parts.push({ kind: "geometry", terms, mix: state.mix, recipe });
    } else {
      const own = work.program(state, context);
      const program = state.mix === 1 ? own : [keepOperation, ...own, mixOperation(state.mix)];
      if (last?.kind === "point" && element !== apart) {
        last.program.push(...program);
        last.recipe += `+${recipe}`;
      } else parts.push({ kind: "point", program: [...program], recipe });
    }
  }
  return parts;
}

/** Everything an element's result depends on beside its input. */
function recipeOf(
  state: ElementState,
  { geometry, lens, focalLength, stop, focusDistance, hasDepth, depthPlate, frameRate, frame, cabinet }: FrameContext,
): string {
  const { id: _, ...rest } = state;
  const filter = typeof rest.values.profile === "string" ? cabinet.filters.get(rest.values.profile) : undefined;
  return JSON.stringify([
    rest,
    geometry,
    profileKey(lens),
    profileKey(filter ?? null),
    focalLength,
    stop,
    focusDistance,
    hasDepth,
    depthPlate,
    frameRate,
    definitionOf(state.kind).changesWithFrame ? frame : 0,
  ]);
}

const profileKeys = new WeakMap<object, string>();
let profilesSeen = 0;

/** Profiles are immutable objects; each gets a short name of its own in keys. */
function profileKey(profile: object | null): string {
  if (!profile) return "";
  let key = profileKeys.get(profile);
  if (!key) {
    key = `p${++profilesSeen}`;
    profileKeys.set(profile, key);
  }
  return key;
}

const viewKey = ({ view }: Look, { tables }: Cabinet) =>
  `${JSON.stringify(view)} ${profileKey(tables.get(view.lut ?? "") ?? null)}`;

/** A blend of an element's result with its input. */
function mixed(builder: PlanBuilder, input: number, result: number, mix: number): number {
  if (mix === 1 || result === input) return result;
  return addProgram(builder, result, builder.buffer(), [differenceOperation(mix, true)], input);
}

/** An element within an area: what it makes of its source, laid over its input by the matte. */
function planWithin(
  builder: PlanBuilder,
  input: number,
  { element, where }: Extract<Part, { kind: "within" }>,
  context: FrameContext,
): number {
  const matte = planMatte(builder, input, where, context);
  const source =
    where.limits === "result"
      ? input
      : addProgram(builder, input, builder.buffer(), [{ code: "product", floats: [0] }], matte);
  const [part] = fuse([element], context);
  let result = planPart(builder, source, part!, context);
  // Light from the area alone: what it became, in place of what it was.
  if (source !== input) {
    const change = addProgram(builder, result, builder.buffer(), [differenceOperation(1, false)], source);
    result = addProgram(builder, input, builder.buffer(), [{ code: "sum", floats: [0] }], change);
  }
  return where.limits === "source"
    ? result
    : addProgram(builder, result, builder.buffer(), [{ code: "blend", floats: [0] }], input, matte);
}

/** The footage as it came in, outside the area of the whole path. */
function addOutside(builder: PlanBuilder, image: number, where: Where, context: FrameContext): number {
  const source = builder.source({ kind: "frame", number: context.frame });
  const matte = planMatte(builder, source, where, context);
  return builder.step(
    `path within ${JSON.stringify(where)}`,
    addProgram(builder, image, builder.buffer(), [{ code: "blend", floats: [0] }], source, matte),
  );
}

/** What a part does, without ending the step. */
function planPart(builder: PlanBuilder, input: number, part: Part, context: FrameContext): number {
  switch (part.kind) {
    case "within":
      return planWithin(builder, input, part, context);
    case "spread":
      return mixed(builder, input, part.work.plan(builder, input, part.state, context), part.state.mix);
    case "geometry":
      return mixed(builder, input, planGeometry(builder, input, part.terms, context, part.recipe), part.mix);
    case "point":
      return addProgram(builder, input, builder.buffer(), part.program);
  }
}

function addPart(builder: PlanBuilder, input: number, part: Part, context: FrameContext): number {
  const result = planPart(builder, input, part, context);
  if (result === input) builder.pass(part.recipe);
  else builder.step(part.recipe, result);
  return result;
}

/** The parts that have to be done, and the key they begin from: those up to the last whose result is kept are done already. */
function remaining(parts: Part[], sourceKey: string, isKept: (key: string) => boolean): { from: string; rest: Part[] } {
  const keys = [sourceKey];
  for (const { recipe } of parts) keys.push(keyAfter(keys.at(-1)!, recipe));
  for (let done = parts.length; done > 0; done--)
    if (isKept(keys[done]!)) return { from: keys[done]!, rest: parts.slice(done) };
  return { from: sourceKey, rest: parts };
}

/**
 * Look and frame to plan. Pure: the same look, profiles and request give the same plan. Lengths are turned from millimetres,
 * degrees and percent to pixels here and nowhere later. Frames must be free of NaN and infinities (image/image.ts sees to it). `isKept`: whether
 * the engine that will run the plan still holds what a key stands for; what it holds is not planned again.
 */
export function compile(
  look: Look,
  cabinet: Cabinet,
  request: FrameRequest,
  output: Output,
  isKept: (key: string) => boolean = () => false,
): Plan {
  const context = frameContext(look, cabinet, request);
  const { elements, where: pathArea } = lookAt(look, context.lens, request.frame, context.frameRate);
  const path = output.kind === "area" && output.element === null;
  const stopAt = path
    ? 0
    : output.kind === "matte" || output.kind === "area"
      ? elements.findIndex(({ id }) => id === output.element)
      : elements.length;
  if (stopAt < 0) throw new RangeError(`The look has no element “${(output as { element: string }).element}”`);
  const acting = elements.slice(0, stopAt).filter(acts);
  // On a screen the last element is the one most often moved: what comes before it is kept as it is.
  const parts = fuse(acting, context, output.kind === "display" ? acting.at(-1) : undefined);
  // A view that follows pixel-local elements joins their program, which saves reading and writing the frame once more.
  const tail = !pathArea && (output.kind === "display" || output.kind === "codes") ? parts.at(-1) : undefined;
  const joined = tail?.kind === "point" ? tail : { program: [], recipe: "" };
  if (tail?.kind === "point") parts.pop();
  const { from, rest } = remaining(parts, request.sourceKey, isKept);
  const builder = new PlanBuilder(request.width, request.height, from);
  let image = 0;
  for (const part of rest) image = addPart(builder, image, part, context);
  const isFootage = image === 0 && from === request.sourceKey;
  if (pathArea && !isFootage && stopAt === elements.length) image = addOutside(builder, image, pathArea, context);
  if (output.kind === "matte") {
    const state = resolveElement(elements[stopAt]!, context.lens);
    const key = definitionOf(state.kind).key?.(state);
    if (!key) throw new RangeError(`“${definitionOf(state.kind).label}” has no highlight key`);
    const program: PointOperation[] = [
      { code: "matte", floats: keyRecord(key) },
      { code: "quantise", floats: [] },
    ];
    builder.step(
      `matte ${JSON.stringify(key)}`,
      addProgram(builder, image, builder.buffer(request.width, request.height, 4), program),
    );
  } else if (output.kind === "area") {
    const where = path ? pathArea : elements[stopAt]!.where;
    if (!where) throw new RangeError(`The ${path ? "path" : "element"} acts everywhere; it has no area`);
    const matte = planMatte(builder, image, where, context);
    const shown = addProgram(builder, image, builder.buffer(), viewOperations(look.view, cabinet.tables));
    const program: PointOperation[] = [
      ...(output.over ? [{ code: "overlay" as const, floats: [OVERLAY] }] : []),
      { code: "quantise", floats: [] },
    ];
    builder.step(
      `area ${output.over} ${JSON.stringify(where)}`,
      addProgram(builder, matte, builder.buffer(request.width, request.height, 4), program, shown),
    );
  } else if (output.kind === "codes") {
    const program = [...joined.program, ...viewOperations(look.view, cabinet.tables)];
    builder.step(
      `${joined.recipe} codes ${viewKey(look, cabinet)}`,
      addProgram(builder, image, builder.buffer(), program),
    );
  } else if (output.kind === "display") {
    const out = builder.buffer(request.width, request.height, 4);
    const program = [...joined.program, ...displayOperations(look.view, cabinet.tables)];
    builder.step(`${joined.recipe} display ${viewKey(look, cabinet)}`, addProgram(builder, image, out, program));
  } else if (isFootage) {
    builder.step("light", addProgram(builder, 0, builder.buffer(), [scrubOperation]));
  }
  return builder.finish();
}
