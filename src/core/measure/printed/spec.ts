/** What is said of a printed chart: where its axes lie on the page, and which curves it shows. */
import { z } from "zod";

const place = z.tuple([z.number(), z.number()]).describe("px of the page, from its upper left corner");
const mark = z.object({ value: z.number(), at: place }).strict();

const axis = z
  .object({ scale: z.enum(["linear", "log"]).default("linear"), from: mark, to: mark })
  .strict()
  .refine(({ from, to }) => from.value !== to.value, "its two values are the same")
  .refine(
    ({ scale, from, to }) => scale === "linear" || (from.value > 0 && to.value > 0),
    "a logarithm needs values above 0",
  );

const curve = z
  .object({
    quantity: z.enum(["contrast", "illumination", "distortion", "transmission"]),
    direction: z.enum(["sagittal", "meridional"]).optional(),
    frequency: z.number().positive().max(2000).optional().describe("lp/mm"),
    focalLength: z.number().positive().max(5000).optional().describe("mm"),
    stop: z.number().positive().max(128).optional().describe("T-stop"),
    unit: z.enum(["%", "share", "stops"]).optional().describe("of y; else as its values suggest"),
    from: place.optional().describe("a place on the line, which is followed from there"),
    points: z.array(place).max(5000).optional().describe("places on the line, which stand for themselves"),
  })
  .strict()
  .refine(({ from, points }) => Boolean(from) !== Boolean(points), "has either a place to follow it from, or points")
  .refine(
    ({ quantity, frequency }) => quantity !== "contrast" || frequency !== undefined,
    "contrast needs its frequency",
  )
  .refine(
    ({ quantity, focalLength }) => quantity !== "distortion" || focalLength !== undefined,
    "distortion needs its focal length",
  );

export const printedSchema = z
  .object({
    id: z
      .string()
      .regex(/^[a-z0-9][a-z0-9-]{0,63}$/)
      .optional(),
    name: z.string().min(1).max(120).optional(),
    axes: z.object({ x: axis, y: axis }).strict(),
    curves: z.array(curve).min(1).max(64),
  })
  .strict();
export type PrintedSpec = z.infer<typeof printedSchema>;
export type PrintedCurve = PrintedSpec["curves"][number];

/** A curve as it was read: values on its axes, and how sure each is. */
export interface ReadCurve {
  x: number[];
  y: number[];
  uncertainty: number[];
}
