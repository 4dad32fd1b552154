import type { PointOperation } from "../engine/pointwise";
import {
  clampOperation,
  cubeOperation,
  curvesOperation,
  lineOperation,
  offsetMatrixOperation,
} from "../engine/pointwise";
import { diagonal, IDENTITY, type Matrix3, type Triple } from "../maths/matrix";
import { LUMINANCE_709 } from "../colour/primaries";
import { channelCurves, type TransformStep, type Transform } from "../colour/transform/transform";

/** A transform as pixel-local operations of the engine, for the view. */
export const transformOperations = ({ steps }: Transform): PointOperation[] => steps.flatMap(stepOperations);

const NONE: Triple = [0, 0, 0];
const clamp01 = clampOperation(0, 1);

function saturation(amount: number): PointOperation {
  const [r, g, b] = LUMINANCE_709.map((weight) => weight * (1 - amount)) as [number, number, number];
  return offsetMatrixOperation([r + amount, g, b, r, g + amount, b, r, g, b + amount], NONE);
}

const each = (curve: (value: number, c: number) => number) =>
  curvesOperation([0, 1, 2].map((c) => (value: number) => curve(value, c)));

function stepOperations(step: TransformStep): PointOperation[] {
  const curves = channelCurves(step);
  if (curves) return [curvesOperation(curves)];
  switch (step.kind) {
    case "matrix":
      return [offsetMatrixOperation(step.matrix, step.offset)];
    case "range": {
      const move =
        step.scale === 1 && step.offset === 0
          ? []
          : [
              offsetMatrixOperation(IDENTITY.map((v) => v * step.scale) as unknown as Matrix3, [
                step.offset,
                step.offset,
                step.offset,
              ]),
            ];
      return step.low === undefined && step.high === undefined
        ? move
        : [...move, clampOperation(step.low ?? -Infinity, step.high ?? Infinity)];
    }
    case "lut1d":
      return [lineOperation(step)];
    case "lut3d":
      return [cubeOperation(step)];
    case "cdl": {
      const { slope, offset, power, inverse } = step;
      const hold = step.clamps ? [clamp01] : [];
      const bent = power.some((value) => value !== 1);
      const bend = (sign: number) =>
        bent ? [each((value, c) => (value < 0 ? value : value ** (power[c]! ** sign)))] : [];
      if (!inverse)
        return [
          offsetMatrixOperation(diagonal(slope), offset),
          ...hold,
          ...bend(1),
          saturation(step.saturation),
          ...hold,
        ];
      const back = offsetMatrixOperation(
        diagonal(slope.map((s) => 1 / s) as unknown as Triple),
        offset.map((o, c) => -o / slope[c]!) as unknown as Triple,
      );
      return [...hold, saturation(1 / step.saturation), ...hold, ...bend(-1), back, ...hold];
    }
    default:
      throw new RangeError(`A transform has no step of the kind ${step.kind}`);
  }
}
