import { z } from "zod";
import { type AreaDefinition, common, type Named, schemasOf } from "../definition";
import { POINTS } from "../numbers";

const numbers = {
  rounding: {
    label: "Rounding",
    unit: "% of height",
    help: "of its corners, % of height; grows it by as much",
    default: 0,
    min: 0,
    max: 100,
    track: { min: 0, max: 50, step: 0.5 },
  },
  soft: {
    label: "Outer line",
    unit: "% of height",
    help: "from its line to the outer one, % of height",
    default: 5,
    min: 0,
    max: 200,
    track: { min: 0, max: 60, step: 0.5 },
  },
} as const;

const percent = z.number().min(POINTS.min).max(POINTS.max);
const MAX_POINTS = 64;

export const polygonSchema = z
  .object({
    kind: z.literal("polygon"),
    ...common,
    points: z
      .array(z.tuple([percent, percent]))
      .min(3)
      .max(MAX_POINTS)
      .describe("x in % of width and y in % of height, from the frame's centre"),
    ...schemasOf(numbers),
  })
  .strict();
type Polygon = Named<z.infer<typeof polygonSchema>>;

/** A closed line through points: full within it, nothing beyond its outer line. */
export const polygon: AreaDefinition<Polygon> = {
  label: "Polygon",
  numbers,
  fresh: {
    kind: "polygon",
    points: [
      [-25, -25],
      [25, -25],
      [25, 25],
      [-25, 25],
    ],
  },
  handle: () => ({ kind: "polygon", label: "Polygon", points: "points", rounding: "rounding", soft: "soft" }),
  moved: (area, { carry: place }) => ({
    ...area,
    points: area.points.map((point) => [...place(point)] as [number, number]),
  }),
  ramp: ({ soft }) => soft / 100,
  record: ({ points, rounding, soft }, { geometry: { width, height, axisX, axisY } }) => {
    const px = (percent: number) => (percent / 100) * height;
    return {
      code: "polygonMatte",
      fields: {
        count: points.length,
        rounding: px(rounding),
        soft: px(soft),
        points: Float32Array.from(points.flatMap(([x, y]) => [axisX + (x / 100) * width, axisY + px(y)])),
      },
    };
  },
};
