import { LUMINANCE } from "../colour/primaries";
import type { FrameContext } from "../elements/definition";
import type { PlanBuilder } from "../engine/plan";
import { addProgram, keepOperation, type PointOperation } from "../engine/pointwise";
import { planGaussian } from "../spread/gaussian";
import type { Area, Where } from "./schema";

const COMBINE = { union: 0, intersection: 1, difference: 2 } as const;
const ELLIPSE = 2;
const SQUAREST = 10;

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
      const power = SQUAREST * (ELLIPSE / SQUAREST) ** area.roundness;
      return { code: "shapeMatte", integers, floats: [...head, axisX + (area.x / 100) * width, axisY + px(area.y), c / a, s / a, -s / b, c / b, power, Math.max(area.outer, 1.001)] };
    }
    case "polygon":
      return {
        code: "polygonMatte", integers: { ...integers, 4: area.points.length },
        floats: [...head, 0, px(area.rounding), px(area.soft), 0, ...area.points.flatMap(([x, y]) => [axisX + (x / 100) * width, axisY + px(y)])],
      };
    case "key": {
      const [r, g, b] = area.colour ?? [1, 1, 1];
      const sum = Math.max(r + g + b, 1e-6);
      return {
        code: "keyMatte", integers: { ...integers, 4: area.colour ? 1 : 0 },
        floats: [...head, 0, 0, 0, 0, ...LUMINANCE, 0, area.low, area.high, area.soft, 0, r / sum, b / sum, area.width, area.colourSoft, area.black, area.white, 0, 0],
      };
    }
    case "depth":
      return { code: "depthMatte", integers, floats: [...head, area.near, area.far, area.soft, 0] };
  }
}

/** Emits the matte of an area over a picture, in every lane of a buffer. Without a depth channel ranges of depth are everywhere. */
export function planMatte(builder: PlanBuilder, picture: number, where: Where, context: FrameContext): number {
  const areas = where.areas.filter(({ kind }) => kind !== "depth" || context.hasDepth);
  const depth = areas.some(({ kind }) => kind === "depth") ? builder.source({ kind: "depth" }) : undefined;
  const gain: PointOperation = { code: "matrix", floats: [where.strength, 0, 0, 0, 0, where.strength, 0, 0, 0, 0, where.strength, 0] };
  const all: PointOperation[] = areas.length ? areas.map((area) => areaOperation(area, context)) : [{ code: "shapeMatte", floats: [0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 2, 2] }];
  const matte = addProgram(builder, picture, builder.buffer(), [keepOperation, { code: "clear", floats: [0] }, ...all, gain], depth);
  const sigma = (where.feather / 100) * context.geometry.height;
  return sigma > 0 ? planGaussian(builder, matte, sigma, sigma) : matte;
}
