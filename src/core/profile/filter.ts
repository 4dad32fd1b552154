import { z } from "zod";
import { monotoneCubic } from "../maths/interpolate";
import { lensSchema, profileId, profileName } from "./lens";

const MAX_SAMPLES = 512;
const relative = z.array(z.number().nonnegative()).min(2).max(MAX_SAMPLES);
const provenance = { origin: lensSchema.shape.origin, uncertainty: lensSchema.shape.uncertainty };

const spread = z
  .object({
    degrees: z
      .array(z.number().nonnegative())
      .min(2)
      .max(MAX_SAMPLES)
      .refine((values) => values.every((value, i) => i === 0 || value > values[i - 1]!), "must ascend")
      .describe("Scatter angle"),
    red: relative.describe("Light per unit area, any scale"),
    green: relative,
    blue: relative,
  })
  .strict()
  .superRefine((table, context) => {
    for (const channel of ["red", "green", "blue"] as const) {
      if (table[channel].length !== table.degrees.length)
        context.addIssue({
          code: "custom",
          path: [channel],
          message: `needs ${table.degrees.length} values, one for each angle; has ${table[channel].length}`,
        });
      if (!table[channel].some((value) => value > 0))
        context.addIssue({ code: "custom", path: [channel], message: "has no light in it" });
    }
  });

const grade = z
  .object({
    grade: z.string().min(1).max(20),
    scatter: z.number().min(0).max(1).describe("Fraction of the light that is scattered"),
    absorption: z.number().min(0).max(1).default(0).describe("Fraction of the scattered light that is absorbed"),
    transmissionStops: z.number().min(-10).max(0.5).default(0).describe("Stops; negative loses light"),
    spread,
    ...provenance,
  })
  .strict();

export const filterSchema = z
  .object({
    format: z.literal("pale-halo-filter"),
    version: z.literal(1),
    id: profileId,
    name: profileName,
    set: z.string().max(120).optional(),
    notes: z.string().max(2000).optional(),
    grades: z.array(grade).min(1).max(64),
    ...provenance,
  })
  .strict();

export type FilterProfile = z.infer<typeof filterSchema>;
export type Grade = FilterProfile["grades"][number];

/** The least steep fall that a spread may be continued with past its last angle, as a power of the angle. */
const SHALLOWEST_TAIL = -2.2;
/** Zero is given this share of the brightest sample, so that it has a logarithm. */
const DARKEST = 1e-12;

/**
 * Light per unit area against angle (degrees), from a table: monotone cubic on logarithms of both; held inside the
 * first angle, continued with its last slope outside the last.
 */
export function spreadCurve(degrees: readonly number[], values: readonly number[]): (angle: number) => number {
  const from = degrees[0] === 0 ? 1 : 0;
  const floor = Math.max(...values) * DARKEST;
  const xs = degrees.slice(from).map(Math.log);
  const ys = values.slice(from).map((value) => Math.log(Math.max(value, floor)));
  const inner = values[0]!;
  const curve = monotoneCubic(xs, ys);
  const n = xs.length - 1;
  const slope = n ? Math.min((ys[n]! - ys[n - 1]!) / (xs[n]! - xs[n - 1]!), SHALLOWEST_TAIL) : SHALLOWEST_TAIL;
  return (angle) => {
    if (angle <= 0) return inner;
    const x = Math.log(angle);
    if (from && x < xs[0]!) {
      const t = angle / degrees[1]!;
      return inner + (Math.exp(ys[0]!) - inner) * t;
    }
    return Math.exp(x > xs[n]! ? ys[n]! + slope * (x - xs[n]!) : curve(x));
  };
}
