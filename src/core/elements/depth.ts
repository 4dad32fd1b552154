import type { PlanBuilder } from "../engine/plan";
import { addProgram, curvesOperation, matrixOperation } from "../engine/pointwise";
import { distanceOf } from "../frame/depth-plate";
import type { FrameContext } from "../frame/context";

/** Distances are not encoded light: they are read as they stand. */
const AS_IT_STANDS = "linear-ap1";
const FIRST_CHANNEL = [1, 0, 0, 1, 0, 0, 1, 0, 0] as const;

/** Emits how far things are, m, in every lane of a buffer: the shot's own depth channel, or its depth plate. */
export function planDepth(builder: PlanBuilder, { depthPlate, frame, shot }: FrameContext): number {
  if (!depthPlate) return builder.source({ kind: "depth" });
  const plate = builder.source({
    kind: "plate",
    footage: depthPlate.footage,
    encoding: AS_IT_STANDS,
    ends: "hold",
    index: frame - shot.first,
  });
  const curve = (value: number) => distanceOf(depthPlate, value);
  return addProgram(builder, plate, builder.buffer(), [
    matrixOperation([...FIRST_CHANNEL]),
    curvesOperation([curve, curve, curve]),
  ]);
}
