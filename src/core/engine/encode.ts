import { type Encoding, fromWorking } from "../colour/encodings";
import { memoised } from "../maths/memoise";
import { curvesOperation, matrixOperation, type PointOperation } from "./pointwise";

/** A curve's table takes milliseconds to make. */
const curves = memoised<PointOperation>(8);

/** Working light to an encoding's code values. */
export function toCodes(encoding: Encoding): PointOperation[] {
  const matrix = fromWorking(encoding);
  const { toCode } = encoding.transfer;
  return [
    ...(matrix ? [matrixOperation(matrix)] : []),
    ...(encoding.family === "linear"
      ? []
      : [curves(encoding.transfer, "to codes", () => curvesOperation([toCode, toCode, toCode]))]),
  ];
}

/** An encoding's code values to working light. */
export function toLight(encoding: Encoding): PointOperation[] {
  const { toLight: curve } = encoding.transfer;
  return [
    ...(encoding.family === "linear"
      ? []
      : [curves(encoding.transfer, "to light", () => curvesOperation([curve, curve, curve]))]),
    ...(encoding.toWorking ? [matrixOperation(encoding.toWorking)] : []),
  ];
}
