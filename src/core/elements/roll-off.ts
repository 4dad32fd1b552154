import { MID_GREY, stopsOf } from "../colour/grey";
import type { PlanBuilder } from "../engine/plan";
import {
  addProgram,
  curvesOperation,
  differenceOperation,
  layerOperation,
  type LayerMode,
  matrixOperation,
  type PointOperation,
  sumOperation,
} from "../engine/pointwise";
import { diagonal } from "../maths/matrix";
import { type CurvePoints, curveThrough, isDiagonal } from "../maths/curve";
import type { Parameter } from "./definition";

const AXIS = { min: -12, max: 8, unit: "stops from mid-grey" };

/** The drawn roll-off of light that an element lays over the picture, shared by those that have one. */
export const rollOffParameter = (group: string) =>
  ({
    type: "curve",
    group,
    label: "Roll-off curve",
    x: { ...AXIS, label: "Its light" },
    y: { ...AXIS, label: "Light laid over" },
    default: [
      [-12, -12],
      [8, 8],
    ],
    presets: [
      {
        name: "As it falls",
        points: [
          [-12, -12],
          [8, 8],
        ],
      },
      {
        name: "Soft shoulder",
        points: [
          [-12, -12],
          [-2, -2],
          [1, 0.2],
          [8, 2.5],
        ],
      },
      {
        name: "Fades early",
        points: [
          [-12, -12],
          [-5, -8],
          [-1, -1.4],
          [8, 8],
        ],
      },
    ],
    help: "How its light falls into the picture, drawn: a hard edge gives it away, and a shoulder keeps highlights from rising.",
  }) as const satisfies Parameter;

/** A curve in stops as one of light; none where it changes nothing. */
export function rollOffOperations(points: CurvePoints): PointOperation[] {
  if (isDiagonal(points)) return [];
  const stops = curveThrough(points);
  const light = (of: number) => (of <= 0 ? 0 : MID_GREY * 2 ** stops(stopsOf(of)));
  return [curvesOperation([light, light, light], "straight")];
}

/**
 * Emits what an element adds with its roll-off, strength · curve(added - input), laid over the input; added to it
 * unless it is laid over otherwise. `added`: emits the input with the element's light at a strength added to it.
 */
export function planRollOff(
  builder: PlanBuilder,
  input: number,
  strength: number,
  added: (strength: number) => number,
  points: CurvePoints,
  mode: LayerMode = "add",
): number {
  const curve = rollOffOperations(points);
  if (!curve.length && mode === "add") return added(strength);
  const result = added(1);
  if (result === input) return input;
  const laid = mode === "add" ? [times(strength), sumOperation] : [layerOperation({ mode, amount: strength })];
  const program = [differenceOperation(1, false), ...curve, ...laid];
  return addProgram(builder, result, builder.buffer(), program, input, input);
}

const times = (factor: number) => matrixOperation(diagonal([factor, factor, factor]));
