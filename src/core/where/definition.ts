import { z } from "zod";
import type { FrameContext } from "../frame/context";
import type { Handle } from "../handles/handle";
import { POINT_OPERATIONS, Values } from "../engine/records";

/** A number of an area, from which its schema, its range and its field follow. */
export interface AreaNumber {
  label: string;
  unit: string;
  /** What the schema says of it. */
  help?: string;
  default: number;
  /** What it may be. */
  min: number;
  max: number;
  /** Where its track goes from and to, and by which steps. Default: all of its range. */
  track: { min: number; max: number; step: number };
  /** What a double press sets. Default: the default. */
  reset?: number;
}
export type AreaNumbers = Readonly<Record<string, AreaNumber>>;

type NumberSchemas<N extends AreaNumbers> = { [K in keyof N]: z.ZodDefault<z.ZodNumber> };

/** The schemas of an area's numbers. */
export const schemasOf = <N extends AreaNumbers>(numbers: N): NumberSchemas<N> =>
  Object.fromEntries(
    Object.entries(numbers).map(([name, { min, max, default: own, help }]) => {
      const schema = z.number().min(min).max(max).default(own);
      return [name, help === undefined ? schema : schema.describe(help)];
    }),
  ) as NumberSchemas<N>;

/**
 * An area's own name within its `where`: what is timed in it is named by it. Begins with a letter, unlike a number in a
 * list.
 */
const ID = /^[A-Za-z][\w-]*$/;
const MAX_NAME = 40;

/** What every area has. */
export const common = {
  id: z
    .string()
    .max(MAX_NAME)
    .regex(ID)
    .optional()
    .describe("names it for what is timed in it; given where it is left out"),
  combine: z
    .enum(["union", "intersection", "difference"])
    .default("union")
    .describe("how it joins what stands before it"),
  name: z.string().max(MAX_NAME).optional(),
  follow: z
    .string()
    .max(MAX_NAME)
    .optional()
    .describe("id of a track it goes along with, from where it is on that track’s frame"),
  inverted: z.boolean().default(false),
  strength: z.number().min(0).max(1).default(1),
};

/** An area that has its id: where it was read without one it was given one. */
export type Named<A> = A extends object ? Omit<A, "id"> & { id: string } : never;

export type Point = readonly [number, number];

/**
 * Where things of the frame have gone: places in % of its size from its centre, by how much they grew, and turned
 * (degrees).
 */
export interface Movement {
  carry(at: Point): Point;
  scale: number;
  rotation: number;
}

/** A pixel-local operation that makes an area's matte, without how it joins others. */
export type AreaRecord = {
  [C in AreaCode]: { code: C; fields: Omit<Values<(typeof POINT_OPERATIONS)[C]>, "combine" | "inverted" | "strength"> };
}[AreaCode];
type AreaCode = "shapeMatte" | "polygonMatte" | "keyMatte" | "depthMatte";

/** A kind of area: all that is known of it. */
export interface AreaDefinition<A> {
  label: string;
  numbers: AreaNumbers;
  /** Numbers that mean something for this one; all if left out. */
  shows?(area: A, name: string): boolean;
  /** Limits that must not cross: the lower, the upper, and the least between them. */
  limits?: readonly (readonly [low: string, high: string, apart: number])[];
  /** A new one, as it is first put there. */
  fresh: object;
  /** What of it is dragged on the picture, by the names of its values. */
  handle?(area: A): Handle;
  /** The same area where what it lies on has gone; left out where it has no place. */
  moved?(area: A, by: Movement): A;
  /** The ramp from its inner to its outer line, share of the picture's height; left out where it has no line. */
  ramp?(area: A): number;
  /** Blurs, % of height: of the picture it looks at, and of its matte. */
  blurs?(area: A): { picture: number; matte: number };
  /** Its operation (assembly/where.ts): percents and degrees become pixels here. */
  record(area: A, context: FrameContext): AreaRecord;
}
