import { LUMINANCE } from "../../colour/primaries";
import type { PlanBuilder } from "../../engine/plan";
import {
  addProgram,
  clampOperation,
  offsetMatrixOperation,
  type PointOperation,
  blendOperation,
  clearOperation,
} from "../../engine/pointwise";
import { planGaussian } from "../../spread/gaussian";
import { type ElementState } from "../definition";
import type { FrameContext } from "../../frame/context";
import { type Vignette } from "./parameters";
import { shapeOf } from "./shape";

export function shading({ strength, values }: ElementState<Vignette>, context: FrameContext): PointOperation {
  const saturation = Math.max(0, 1 + (values.saturation - 1) * strength);
  const colour = values.colour.map((value) => value ** strength);
  return {
    code: "shape",
    fields: {
      ...shapeOf(values, context),
      exposure: values.exposure * strength,
      saturation,
      luminance: LUMINANCE,
      colour: [...colour, 1],
    },
  };
}

/** Where a matte of the outside lies between `from` and `to`, as 0 to 1 in every lane. */
function outsideMatte(
  builder: PlanBuilder,
  input: number,
  values: Vignette,
  context: FrameContext,
  from: number,
  to: number,
): number {
  const gain = 1 / (to - from);
  const inverted: PointOperation = {
    code: "shapeMatte",
    fields: { combine: "union", inverted: true, strength: 1, ...shapeOf(values, context) },
  };
  const ramp = offsetMatrixOperation([gain, 0, 0, 0, gain, 0, 0, 0, gain], [-from * gain, -from * gain, -from * gain]);
  return addProgram(builder, input, builder.buffer(), [clearOperation, inverted, ramp, clampOperation(0, 1)]);
}

/** The outside goes out of focus in two steps, so that no sharp picture shows through a blurred one. */
export function softened(
  builder: PlanBuilder,
  input: number,
  { strength, values }: ElementState<Vignette>,
  context: FrameContext,
): number {
  const sigma = (values.blur / 100) * context.geometry.height * strength;
  const near = planGaussian(builder, input, sigma / 2, sigma / 2);
  const far = planGaussian(builder, input, sigma, sigma);
  const first = addProgram(
    builder,
    near,
    builder.buffer(),
    [blendOperation],
    input,
    outsideMatte(builder, input, values, context, 0, 0.5),
  );
  return addProgram(
    builder,
    far,
    builder.buffer(),
    [blendOperation],
    first,
    outsideMatte(builder, input, values, context, 0.4, 1),
  );
}
