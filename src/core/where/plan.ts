import { planDepth } from "../elements/depth";
import type { PlanBuilder } from "../engine/plan";
import {
  addProgram,
  keepOperation,
  type PointOperation,
  everywhereOperation,
  clearOperation,
  matrixOperation,
} from "../engine/pointwise";
import { planGaussian } from "../spread/gaussian";
import { areaDefinition } from "./registry";
import type { Area, Where } from "./schema";
import type { FrameContext } from "../frame/context";
import { diagonal } from "../maths/matrix";

const joinOf = ({ combine, inverted, strength }: Area) => ({ combine, inverted, strength });

/** An area's operation, with how it joins those before it. */
function areaOperation(area: Area, context: FrameContext): PointOperation {
  const { code, fields } = areaDefinition(area).record(area, context);
  return { code, fields: { ...joinOf(area), ...fields } } as PointOperation;
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
  const matte = addProgram(builder, looked, builder.buffer(), [keepOperation, clearOperation, alone]);
  return after < MIN_BLUR ? matte : planGaussian(builder, matte, after, after);
}

/** Takes every lane from the third frame: the matte as it stands. */
const RESUME: PointOperation = { code: "lanes", fields: { red: "third", green: "third", blue: "third" } };

/**
 * Emits the matte of an area over a picture, in every lane of a buffer. Without a depth channel ranges of depth are
 * everywhere.
 */
export function planMatte(builder: PlanBuilder, picture: number, where: Where, context: FrameContext): number {
  const areas = where.areas.filter(({ kind }) => kind !== "depth" || context.hasDepth);
  const depth = areas.some(({ kind }) => kind === "depth") ? planDepth(builder, context) : undefined;
  let matte: number | undefined;
  let pending: PointOperation[] = areas.length ? [] : [everywhereOperation];
  const flush = () => {
    if (!pending.length) return;
    matte = addProgram(
      builder,
      picture,
      builder.buffer(),
      [keepOperation, matte === undefined ? clearOperation : RESUME, ...pending],
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
    const join: PointOperation = { code: "joinMatte", fields: joinOf(area) };
    matte = addProgram(
      builder,
      matte ?? picture,
      builder.buffer(),
      [...(matte === undefined ? [clearOperation] : []), join],
      alone,
    );
  }
  flush();
  const { strength } = where;
  if (strength < 1)
    matte = addProgram(builder, matte!, builder.buffer(), [matrixOperation(diagonal([strength, strength, strength]))]);
  const sigma = (where.feather / 100) * context.geometry.height;
  return sigma > 0 ? planGaussian(builder, matte!, sigma, sigma) : matte!;
}
