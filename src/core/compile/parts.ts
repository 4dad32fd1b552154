import { planGeometry } from "../elements/geometry";
import { cacheKeyAfter, type PlanBuilder } from "../engine/plan";
import { addProgram, differenceOperation, sumOperation, blendOperation, productOperation } from "../engine/pointwise";
import type { FrameContext } from "../frame/context";
import { planMatte } from "../where/plan";
import type { Where } from "../where/schema";
import { fuse, type PathPart } from "./fuse";
import { areaRecipe } from "./recipe";

/** A blend of an element's result with its input. */
function mixed(builder: PlanBuilder, input: number, result: number, mix: number): number {
  if (mix === 1 || result === input) return result;
  return addProgram(builder, result, builder.buffer(), [differenceOperation(mix, true)], input);
}

/** An element within an area: what it makes of its source, laid over its input by the matte. */
function planWithin(
  builder: PlanBuilder,
  input: number,
  { element, where }: Extract<PathPart, { kind: "within" }>,
  context: FrameContext,
): number {
  const matte = planMatte(builder, input, where, context);
  const source =
    where.limits === "result" ? input : addProgram(builder, input, builder.buffer(), [productOperation], matte);
  const [part] = fuse([element], context);
  let result = planPart(builder, source, part!, context);
  // Light from the area alone: what it became, in place of what it was.
  if (source !== input) {
    const change = addProgram(builder, result, builder.buffer(), [differenceOperation(1, false)], source);
    result = addProgram(builder, input, builder.buffer(), [sumOperation], change);
  }
  return where.limits === "source"
    ? result
    : addProgram(builder, result, builder.buffer(), [blendOperation], input, matte);
}

/** What a part does, without ending the step. */
function planPart(builder: PlanBuilder, input: number, part: PathPart, context: FrameContext): number {
  switch (part.kind) {
    case "within":
      return planWithin(builder, input, part, context);
    case "buffers":
      return mixed(builder, input, part.work.plan(builder, input, part.state, part.context ?? context), part.state.mix);
    case "geometry":
      return mixed(builder, input, planGeometry(builder, input, part.terms, context, part.recipe), part.mix);
    case "point":
      return addProgram(builder, input, builder.buffer(), part.program);
  }
}

/** Adds a part as a step of its own, whose result may be kept. */
export function addPart(builder: PlanBuilder, input: number, part: PathPart, context: FrameContext): number {
  const result = planPart(builder, input, part, context);
  if (result === input) builder.pass(part.recipe);
  else builder.step(part.recipe, result);
  return result;
}

/** The footage as it came in, outside the area of the whole path. */
export function addOutside(builder: PlanBuilder, image: number, where: Where, context: FrameContext): number {
  const source = builder.source({ kind: "frame", number: context.frame });
  const matte = planMatte(builder, source, where, context);
  return builder.step(
    `path within ${areaRecipe(where, context)}`,
    addProgram(builder, image, builder.buffer(), [blendOperation], source, matte),
  );
}

/**
 * The parts that have to be done, and the key they begin from: those up to the last whose result is kept are done
 * already.
 */
export function remaining(
  parts: PathPart[],
  sourceKey: string,
  isKept: (key: string) => boolean,
): { from: string; rest: PathPart[] } {
  const keys = [sourceKey];
  for (const { recipe } of parts) keys.push(cacheKeyAfter(keys.at(-1)!, recipe));
  for (let done = parts.length; done > 0; done--)
    if (isKept(keys[done]!)) return { from: keys[done]!, rest: parts.slice(done) };
  return { from: sourceKey, rest: parts };
}
