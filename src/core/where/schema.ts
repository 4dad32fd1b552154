import { z } from "zod";
import { depthSchema } from "./areas/depth";
import { keySchema } from "./areas/key";
import { polygonSchema } from "./areas/polygon";
import { shapeSchema } from "./areas/shape";
import { type Named, schemasOf } from "./definition";
import { WHERE_NUMBERS } from "./numbers";

/** The area an element acts on: shapes, keys and ranges of depth, one joined to the next. Plain data. */

const areaSchema = z.union([shapeSchema, polygonSchema, keySchema, depthSchema]);
/** An area as it is read: `where` below gives an id to those that have none. */
type Read = z.infer<typeof areaSchema>;
export type Area = Named<Read>;
export type AreaKind = Area["kind"];

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

const MAX_AREAS = 32;

/** The plain data of a `where`, before areas are named. */
export const whereData = z
  .object({
    areas: z
      .array(areaSchema)
      .min(1)
      .max(MAX_AREAS)
      .refine((areas) => {
        const ids = areas.flatMap(({ id }) => id ?? []);
        return new Set(ids).size === ids.length;
      }, "two areas have the same id"),
    ...schemasOf(WHERE_NUMBERS),
    /** For what moves light: the area it is taken from, the area it may fall in, or both. */
    limits: z.enum(["result", "source", "both"]).default("result"),
  })
  .strict();

export const whereSchema = whereData.transform(({ areas, ...rest }) => ({ ...rest, areas: named(areas) }));
export type Where = z.infer<typeof whereSchema>;
