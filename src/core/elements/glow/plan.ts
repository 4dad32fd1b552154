import { planGaussian } from "../../spread/gaussian";
import type { PlanBuilder } from "../../engine/plan";
import { addProgram } from "../../engine/pointwise";
import type { FrameGeometry } from "../../frame/geometry";
import { planResample } from "../../spread/resample";
import { keyOf, keyRecord, keyFields } from "../key";
import { type Glow } from "./parameters";
import { spreadOf } from "./spread";

/**
 * Standard deviation (px) of a blur before a frame is sheared: a single pixel's light would depend on where it falls on
 * the sheared grid.
 */
const SHEAR_BLUR = 0.8;

/** How a frame is sheared so that a leaning ellipse stands upright, and what the ellipse is there. */
interface Shear {
  /** Across (x moves with y) or down (y moves with x), px a px. */
  across: number;
  down: number;
  /** Size of the sheared frame, px. */
  width: number;
  height: number;
  /** Radius of the upright ellipse down, in the glow's size, and its width over its height. */
  size: number;
  aspect: number;
}

/**
 * An ellipse of half axes `aspect` and 1 whose long one leans by `angle` has the covariance [a b; b d]. Moving x by -(b
 * / d) y leaves it upright with variances A² / d and d, moving y by -(b / a) x with a and A² / a; the smaller of the
 * two frames is taken.
 */
export function shearFor(
  { aspect, angle }: Pick<Glow, "aspect" | "angle">,
  { width, height }: Pick<FrameGeometry, "width" | "height">,
  square: number,
): Shear {
  const turn = (angle * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const a = aspect ** 2 * c ** 2 + s ** 2;
  const d = aspect ** 2 * s ** 2 + c ** 2;
  const b = (aspect ** 2 - 1) * c * s;
  const across = b / d / square;
  const down = (b / a) * square;
  const wide = width + Math.ceil(Math.abs(across) * height);
  const high = height + Math.ceil(Math.abs(down) * width);
  return wide * height <= width * high
    ? { across, down: 0, width: wide, height, size: Math.sqrt(d), aspect: aspect / d }
    : { across: 0, down, width, height: high, size: aspect / Math.sqrt(a), aspect: a / aspect };
}

/** Emits the glow's light. A long glow that leans is spread on a sheared frame, on which it stands upright. */
export function planGlow(
  builder: PlanBuilder,
  input: number,
  values: Glow,
  geometry: FrameGeometry,
  gain: number,
): number {
  const { axisX, axisY, pitchX, pitchY, squeeze } = geometry;
  const { width, height } = builder.size(input);
  const square = (pitchX * squeeze) / pitchY;
  const key = builder.table(keyRecord(keyOf(values)));
  if (values.aspect === 1 || values.angle % 90 === 0) {
    const aspect = values.angle % 180 === 0 ? values.aspect : 1 / values.aspect;
    const upright = { ...values, size: values.angle % 180 === 0 ? values.size : values.size * values.aspect };
    return spreadOf(builder, input, upright, key, geometry, square / aspect, gain);
  }
  const shear = shearFor(values, { width, height }, square);
  const black = values.surround === "black";
  const taken = addProgram(builder, input, builder.buffer(), [{ code: "take", fields: keyFields(keyOf(values)) }]);
  const [middleX, middleY] = [(shear.width - 1) / 2, (shear.height - 1) / 2];
  const sheared = planResample(builder, planGaussian(builder, taken, SHEAR_BLUR, SHEAR_BLUR, { black }), {
    width: shear.width,
    height: shear.height,
    black,
    sourceAt: (x, y) => [
      axisX + x - middleX + shear.across * (y - middleY),
      axisY + y - middleY + shear.down * (x - middleX),
    ],
  });
  const upright = { ...values, size: values.size * shear.size };
  const spread = spreadOf(builder, sheared, upright, undefined, geometry, square / shear.aspect, gain);
  return planResample(builder, spread, {
    width,
    height,
    black,
    sourceAt: (x, y) => [
      middleX + x - axisX - shear.across * (y - axisY),
      middleY + y - axisY - shear.down * (x - axisX),
    ],
  });
}
