import { LUMINANCE } from "../colour/primaries";
import { planDepth } from "../elements/depth";
import { superellipsePower } from "../maths/superellipse";
import type { PlanBuilder } from "../engine/plan";
import { addProgram, keepOperation, type PointOperation } from "../engine/pointwise";
import { planGaussian } from "../spread/gaussian";
import type { Area, Where } from "./schema";
import type { FrameContext } from "../frame/context";

const COMBINE = { union: 0, intersection: 1, difference: 2 } as const;

/** The record of an area (assembly/where.ts): percents and degrees become pixels here. */
function areaOperation(area: Area, { geometry }: FrameContext): PointOperation {
  const { width, height, axisX, axisY } = geometry;
  const integers: Record<number, number> = { 0: COMBINE[area.combine], 1: Number(area.inverted) };
  const head = [0, 0, area.strength, 0];
  const px = (percent: number) => (percent / 100) * height;
  switch (area.kind) {
    case "shape": {
      const turn = (area.rotation * Math.PI) / 180;
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const [a, b] = [px(area.width) / 2, px(area.height) / 2];
      const power = superellipsePower(area.roundness);
      return {
        code: "shapeMatte",
        integers,
        floats: [
          ...head,
          axisX + (area.x / 100) * width,
          axisY + px(area.y),
          c / a,
          s / a,
          -s / b,
          c / b,
          power,
          Math.max(area.outer, 1.001),
        ],
      };
    }
    case "polygon":
      return {
        code: "polygonMatte",
        integers: { ...integers, 4: area.points.length },
        floats: [
          ...head,
          0,
          px(area.rounding),
          px(area.soft),
          0,
          ...area.points.flatMap(([x, y]) => [axisX + (x / 100) * width, axisY + px(y)]),
        ],
      };
    case "key": {
      const [r, g, b] = area.colour ?? [1, 1, 1];
      const sum = Math.max(r + g + b, 1e-6);
      return {
        code: "keyMatte",
        integers: { ...integers, 4: area.colour ? 1 : 0 },
        floats: [
          ...head,
          0,
          0,
          0,
          0,
          ...LUMINANCE,
          0,
          area.low,
          area.high,
          area.soft,
          0,
          r / sum,
          b / sum,
          area.width,
          area.colourSoft,
          area.black,
          area.white,
          0,
          0,
        ],
      };
    }
    case "depth":
      return { code: "depthMatte", integers, floats: [...head, area.near, area.far, area.soft, 0] };
  }
}

/** Blurs below this many px are none. */
const LEAST_BLUR = 0.3;

/** Emits a key's matte by itself where it is blurred, or looks at a blurred picture; null where it can be made along with the others. */
function planKey(builder: PlanBuilder, picture: number, area: Area, context: FrameContext): number | null {
  if (area.kind !== "key") return null;
  const [steady, blur] = [area.steady, area.blur].map((percent) => (percent / 100) * context.geometry.height) as [
    number,
    number,
  ];
  if (steady < LEAST_BLUR && blur < LEAST_BLUR) return null;
  const looked = steady < LEAST_BLUR ? picture : planGaussian(builder, picture, steady, steady);
  const alone = areaOperation({ ...area, combine: "union", inverted: false, strength: 1 }, context);
  const matte = addProgram(builder, looked, builder.buffer(), [keepOperation, { code: "clear", floats: [] }, alone]);
  return blur < LEAST_BLUR ? matte : planGaussian(builder, matte, blur, blur);
}

const CLEAR: PointOperation = { code: "clear", floats: [0] };
/** Takes every lane from the third frame: the matte as it stands. */
const RESUME: PointOperation = { code: "lanes", floats: [0, 0, 0, 0], integers: { 0: 2, 1: 2, 2: 2 } };
const EVERYWHERE: PointOperation = { code: "shapeMatte", floats: [0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 2, 2] };

/** Emits the matte of an area over a picture, in every lane of a buffer. Without a depth channel ranges of depth are everywhere. */
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
    const alone = planKey(builder, picture, area, context);
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
