import { planDepth } from "../elements/depth";
import type { PlanBuilder } from "../engine/plan";
import { addProgram, keepOperation, type PointOperation } from "../engine/pointwise";
import { planGaussian } from "../spread/gaussian";
import { areaDefinition } from "./registry";
import type { Area, Where } from "./schema";
import type { FrameContext } from "../frame/context";

const COMBINE = { union: 0, intersection: 1, difference: 2 } as const;

/** An area's operation, with how it joins those before it. */
function areaOperation(area: Area, context: FrameContext): PointOperation {
  const { code, integers, floats } = areaDefinition(area).record(area, context);
  return {
    code,
    integers: { 0: COMBINE[area.combine], 1: Number(area.inverted), ...integers },
    floats: [0, 0, area.strength, 0, ...floats],
  };
}

/** Blurs below this many px are none. */
const MIN_BLUR = 0.3;

/**
 * Emits the matte of an area that blurs it, or the picture it looks at, by itself; null where it can be made along with
 * the others.
 */
function planBlurred(builder: PlanBuilder, picture: number, area: Area, context: FrameContext): number | null {
  const blurs = areaDefinition(area).blurs?.(area);
  if (!blurs) return null;
  const px = (percent: number) => (percent / 100) * context.geometry.height;
  const [before, after] = [px(blurs.picture), px(blurs.matte)];
  if (before < MIN_BLUR && after < MIN_BLUR) return null;
  const looked = before < MIN_BLUR ? picture : planGaussian(builder, picture, before, before);
  const alone = areaOperation({ ...area, combine: "union", inverted: false, strength: 1 }, context);
  const matte = addProgram(builder, looked, builder.buffer(), [keepOperation, { code: "clear", floats: [] }, alone]);
  return after < MIN_BLUR ? matte : planGaussian(builder, matte, after, after);
}

const CLEAR: PointOperation = { code: "clear", floats: [0] };
/** Takes every lane from the third frame: the matte as it stands. */
const RESUME: PointOperation = { code: "lanes", floats: [0, 0, 0, 0], integers: { 0: 2, 1: 2, 2: 2 } };
const EVERYWHERE: PointOperation = { code: "shapeMatte", floats: [0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 2, 2] };

/**
 * Emits the matte of an area over a picture, in every lane of a buffer. Without a depth channel ranges of depth are
 * everywhere.
 */
export function planMatte(builder: PlanBuilder, picture: number, where: Where, context: FrameContext): number {
  const areas = where.areas.filter(({ kind }) => kind !== "depth" || context.hasDepth);
  const depth = areas.some(({ kind }) => kind === "depth") ? planDepth(builder, context) : undefined;
  let matte: number | undefined;
  let pending: PointOperation[] = areas.length ? [] : [EVERYWHERE];
  const flush = () => {
    if (!pending.length) return;
    matte = addProgram(
      builder,
      picture,
      builder.buffer(),
      [keepOperation, matte === undefined ? CLEAR : RESUME, ...pending],
      depth ?? matte,
      matte,
    );
    pending = [];
  };
  for (const area of areas) {
    const alone = planBlurred(builder, picture, area, context);
    if (alone === null) {
      pending.push(areaOperation(area, context));
      continue;
    }
    flush();
    const join: PointOperation = {
      code: "joinMatte",
      floats: [0, 0, area.strength, 0],
      integers: { 0: COMBINE[area.combine], 1: Number(area.inverted) },
    };
    matte = addProgram(
      builder,
      matte ?? picture,
      builder.buffer(),
      [...(matte === undefined ? [CLEAR] : []), join],
      alone,
    );
  }
  flush();
  const { strength } = where;
  if (strength < 1)
    matte = addProgram(builder, matte!, builder.buffer(), [
      { code: "matrix", floats: [strength, 0, 0, 0, 0, strength, 0, 0, 0, 0, strength, 0] },
    ]);
  const sigma = (where.feather / 100) * context.geometry.height;
  return sigma > 0 ? planGaussian(builder, matte!, sigma, sigma) : matte!;
}
