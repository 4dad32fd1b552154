import { z } from "zod";
import { lookSchema } from "../core/look/look";
import type { LeftOut } from "../core/export/tonal-part";
import { TABLE_SIZES, type TableError } from "../core/export/tonal-table";

export const TABLE_FORMATS = ["cube", "clf"] as const;
export type TableFormat = (typeof TABLE_FORMATS)[number];

/** POST /api/shots/ID/table: the tonal part of a look as a table, measured over a frame of the shot. */
export const exportTableBody = z
  .object({
    look: lookSchema,
    format: z.enum(TABLE_FORMATS),
    size: z.union(TABLE_SIZES.map((size) => z.literal(size))),
    /** Name of an encoding: what code values go in by. */
    input: z.string().min(1).max(120),
    /** Whether the look's view is in it. */
    throughView: z.boolean(),
    frame: z.number().int(),
  })
  .strict();
export type TableWanted = z.infer<typeof exportTableBody>;

/** A table as a file, what is not in it, and how near it comes to the engine. */
export interface TableMade {
  text: string;
  leftOut: LeftOut[];
  /** Over a lattice twice as fine. */
  lattice: TableError;
  /** Over a frame, where one was given. */
  frame: TableError | null;
}
