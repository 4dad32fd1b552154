import { z } from "zod";
import { superellipsePower } from "../../maths/superellipse";
import { type AreaDefinition, common, type Named, schemasOf } from "../definition";

const offset = { default: 0, min: -500, max: 500, track: { min: -100, max: 100, step: 0.5 } } as const;
const side = {
  unit: "% of height",
  help: "of the inner line, % of height",
  default: 60,
  min: 0.1,
  max: 1000,
  track: { min: 1, max: 300, step: 1 },
} as const;

const numbers = {
  x: { label: "Across", unit: "% of width", help: "centre from the frame's centre, % of width", ...offset },
  y: { label: "Down", unit: "% of height", help: "% of height, downwards", ...offset },
  width: { label: "Width", ...side },
  height: { label: "Height", ...side },
  rotation: {
    label: "Rotation",
    unit: "°",
    help: "degrees, clockwise",
    default: 0,
    min: -3600,
    max: 3600,
    track: { min: -180, max: 180, step: 1 },
  },
  roundness: {
    label: "Roundness",
    unit: "",
    help: "0: a rectangle with rounded corners; 1: an ellipse",
    default: 1,
    min: 0,
    max: 1,
    track: { min: 0, max: 1, step: 0.01 },
  },
  outer: {
    label: "Outer line",
    unit: "× inner",
    help: "outer line, against the inner one",
    default: 1.5,
    min: 1,
    max: 20,
    track: { min: 1, max: 6, step: 0.01 },
  },
} as const;

export const shapeSchema = z.object({ kind: z.literal("shape"), ...common, ...schemasOf(numbers) }).strict();
type Shape = Named<z.infer<typeof shapeSchema>>;

/** An outer line nearer than this to the inner one would be a step. */
const MIN_OUTER = 1.001;

/**
 * A rectangle with rounded corners, an ellipse, or what lies between: full within its inner line, nothing beyond its
 * outer one.
 */
export const shape: AreaDefinition<Shape> = {
  label: "Shape",
  numbers,
  fresh: { kind: "shape" },
  handle: ({ inverted }) => ({
    kind: "lines",
    label: "Shape",
    x: "x",
    y: "y",
    rotation: "rotation",
    roundness: "roundness",
    inner: { width: "width", height: "height" },
    outer: { factor: "outer" },
    full: inverted ? "outside" : "inside",
    feather: "feather",
  }),
  moved: (area, { carry: place, scale, rotation }) => {
    const [x, y] = place([area.x, area.y]);
    return {
      ...area,
      x,
      y,
      width: area.width * scale,
      height: area.height * scale,
      rotation: area.rotation + rotation,
    };
  },
  ramp: ({ width, height, outer }) => (Math.min(width, height) / 200) * (outer - 1),
  record: (area, { geometry: { width, height, axisX, axisY } }) => {
    const px = (percent: number) => (percent / 100) * height;
    const turn = (area.rotation * Math.PI) / 180;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const [a, b] = [px(area.width) / 2, px(area.height) / 2];
    return {
      code: "shapeMatte",
      fields: {
        centreX: axisX + (area.x / 100) * width,
        centreY: axisY + px(area.y),
        acrossX: c / a,
        acrossY: s / a,
        downX: -s / b,
        downY: c / b,
        power: superellipsePower(area.roundness),
        outer: Math.max(area.outer, MIN_OUTER),
      },
    };
  },
};
