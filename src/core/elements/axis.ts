import type { FrameGeometry } from "../frame/geometry";
import type { PointHandle } from "../handles/handle";
import type { Parameter } from "./definition";

/** Where the axis an element works about meets the frame: shared by what turns, or reflects, about it. */
export const axisParameters = {
  x: {
    type: "number",
    group: "Axis",
    label: "Axis across",
    unit: "% of width",
    min: -100,
    max: 100,
    step: 0.5,
    default: 0,
    help: "From the frame's centre, to the right: where the lens's axis meets the frame.",
  },
  y: {
    type: "number",
    group: "Axis",
    label: "Axis down",
    unit: "% of height",
    min: -100,
    max: 100,
    step: 0.5,
    default: 0,
    help: "From the frame's centre, downwards.",
  },
} as const satisfies Record<string, Parameter>;

export const axisHandle: PointHandle = { kind: "point", label: "Axis", x: "x", y: "y" };

/** The axis in pixel indices, as a geometry has it. */
export const axisOf = ({ x, y }: { x: number; y: number }, { axisX, axisY, width, height }: FrameGeometry) => ({
  axisX: axisX + (x / 100) * width,
  axisY: axisY + (y / 100) * height,
});
