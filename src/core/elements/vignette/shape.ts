import { superellipsePower } from "../../maths/superellipse";
import type { SUPERELLIPSE, Values } from "../../engine/records";
import type { FrameContext } from "../../frame/context";
import { type Vignette } from "./parameters";

/** Quintic step: 0 to 1 with first and second derivatives of 0 at both ends. */
export const quintic = (t: number) => {
  const u = Math.min(1, Math.max(0, t));
  return u * u * u * (u * (6 * u - 15) + 10);
};

/** From pixels to the shape: its centre, the way to its own axes (1 at the inner line), its power and outer line. */
export function shapeOf(values: Vignette, { geometry }: FrameContext): Values<typeof SUPERELLIPSE> {
  const { width, height, axisX, axisY } = geometry;
  const b = ((values.inner / 100) * height) / 2;
  const a = b * values.aspect;
  const turn = (values.rotation * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return {
    centreX: axisX + (values.x / 100) * width,
    centreY: axisY + (values.y / 100) * height,
    acrossX: cos / a,
    acrossY: sin / a,
    downX: -sin / b,
    downY: cos / b,
    power: superellipsePower(values.roundness),
    outer: Math.max(values.outer / values.inner, 1 + 1e-3),
  };
}

/** Whether any of the frame lies beyond the inner line: what lies within it shows no edge. */
export function reachesFrame(values: Vignette, context: FrameContext): boolean {
  const { width, height } = context.geometry;
  const { centreX, centreY, acrossX, acrossY, downX, downY, power } = shapeOf(values, context);
  return [0, width].some((x) =>
    [0, height].some((y) => {
      const [dx, dy] = [x - centreX, y - centreY];
      return Math.abs(dx * acrossX + dy * acrossY) ** power + Math.abs(dx * downX + dy * downY) ** power > 1;
    }),
  );
}
