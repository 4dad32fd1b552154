import { z } from "zod";

/** The area an element acts on: shapes, keys and ranges of depth, one joined to the next. Plain data. */
const percent = z.number().min(-500).max(500);

/** An area's own name within its `where`: what is timed in it is named by it. Begins with a letter, unlike a number in a list. */
const ID = /^[A-Za-z][\w-]*$/;
const LONGEST_ID = 40;

const common = {
  id: z
    .string()
    .max(LONGEST_ID)
    .regex(ID)
    .optional()
    .describe("names it for what is timed in it; given where it is left out"),
  combine: z
    .enum(["union", "intersection", "difference"])
    .default("union")
    .describe("how it joins what stands before it"),
  name: z.string().max(40).optional(),
  follow: z
    .string()
    .max(40)
    .optional()
    .describe("id of a track it goes along with, from where it is on that track’s frame"),
  inverted: z.boolean().default(false),
  strength: z.number().min(0).max(1).default(1),
};

const shape = z
  .object({
    kind: z.literal("shape"),
    ...common,
    x: percent.default(0).describe("centre from the frame's centre, % of width"),
    y: percent.default(0).describe("% of height, downwards"),
    width: z.number().min(0.1).max(1000).default(60).describe("of the inner line, % of height"),
    height: z.number().min(0.1).max(1000).default(60).describe("of the inner line, % of height"),
    rotation: z.number().min(-3600).max(3600).default(0).describe("degrees, clockwise"),
    roundness: z.number().min(0).max(1).default(1).describe("0: a rectangle with rounded corners; 1: an ellipse"),
    outer: z.number().min(1).max(20).default(1.5).describe("outer line, against the inner one"),
  })
  .strict();

const polygon = z
  .object({
    kind: z.literal("polygon"),
    ...common,
    points: z
      .array(z.tuple([percent, percent]))
      .min(3)
      .max(64)
      .describe("x in % of width and y in % of height, from the frame's centre"),
    rounding: z.number().min(0).max(100).default(0).describe("of its corners, % of height; grows it by as much"),
    soft: z.number().min(0).max(200).default(5).describe("from its line to the outer one, % of height"),
  })
  .strict();

const key = z
  .object({
    kind: z.literal("key"),
    ...common,
    low: z.number().min(-16).max(16).default(-16).describe("stops from mid-grey"),
    high: z.number().min(-16).max(16).default(16).describe("stops from mid-grey"),
    soft: z.number().min(0).max(8).default(1).describe("stops beyond them"),
    colour: z
      .tuple([z.number().min(0).max(1000), z.number().min(0).max(1000), z.number().min(0).max(1000)])
      .optional()
      .describe("light picked from the picture; without it any colour"),
    width: z.number().min(0.001).max(1).default(0.08).describe("of the colour, on its chromaticity"),
    colourSoft: z.number().min(0.001).max(1).default(0.05),
    steady: z
      .number()
      .min(0)
      .max(5)
      .default(0.15)
      .describe("blur of the picture the key looks at, % of height: grain does not flicker in it"),
    blur: z.number().min(0).max(20).default(0).describe("of its matte, % of height"),
    black: z.number().min(0).max(1).default(0).describe("a matte below this is empty"),
    white: z.number().min(0).max(1).default(1).describe("a matte above this is full"),
  })
  .strict()
  .refine(({ low, high }) => low <= high, { path: ["low"], message: "must not lie above high" })
  .refine(({ black, white }) => black < white, { path: ["black"], message: "must lie below white" });

const depth = z
  .object({
    kind: z.literal("depth"),
    ...common,
    near: z.number().min(0).max(1e5).default(0).describe("m"),
    far: z.number().min(0).max(1e5).default(1e5).describe("m"),
    soft: z.number().min(0).max(4).default(0.2).describe("beyond them, as a share of the distance"),
  })
  .strict();

/** What an area is as it is read: `where` below gives an id to those that have none. */
type Read = z.infer<typeof shape> | z.infer<typeof polygon> | z.infer<typeof key> | z.infer<typeof depth>;
type Named<A> = A extends Read ? Omit<A, "id"> & { id: string } : never;
export type Area = Named<Read>;

/** Areas with ids: their own, or the first that is free. */
function named(areas: Read[]): Area[] {
  const taken = new Set(areas.map(({ id }) => id));
  let number = 1;
  return areas.map((area) => {
    if (area.id !== undefined) return area as Area;
    while (taken.has(`area-${number}`)) number++;
    const id = `area-${number++}`;
    return { ...area, id } as Area;
  });
}

/** The plain data of a `where`, before areas are named. */
export const whereData = z
  .object({
    areas: z
      .array(z.union([shape, polygon, key, depth]))
      .min(1)
      .max(32)
      .refine((areas) => {
        const ids = areas.flatMap(({ id }) => id ?? []);
        return new Set(ids).size === ids.length;
      }, "two areas have the same id"),
    feather: z.number().min(0).max(50).default(0).describe("blur of the whole matte, % of height"),
    strength: z.number().min(0).max(1).default(1),
    /** For what moves light: the area it is taken from, the area it may fall in, or both. */
    limits: z.enum(["result", "source", "both"]).default("result"),
  })
  .strict();

export const whereSchema = whereData.transform(({ areas, ...rest }) => ({ ...rest, areas: named(areas) }));
export type Where = z.infer<typeof whereSchema>;
