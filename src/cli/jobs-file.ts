/** The file that lists renders. */
import { z } from "zod";

const text = z.string().min(1).max(4000);
const texts = z.union([text, z.array(text).max(100)]);

/** What a job says: the options of `render`, by their names without the lines. */
const optionsSchema = z
  .object({
    look: text,
    recipe: text,
    in: text,
    out: text,
    frames: z.union([text, z.number().int()]),
    profile: texts,
    table: texts,
    plate: z.record(text, text).describe("footage by the names that the look knows it under"),
    lensData: text,
    inEncoding: text,
    outEncoding: text,
    scale: z.number(),
    depth: z.union([text, z.number().int()]),
    compression: text,
    part: text,
    layer: text,
    depthChannel: text,
    matrix: text,
    range: text,
    overscan: text,
    layers: text,
    slate: text,
    gaps: text,
    threads: z.number().int(),
    resume: z.boolean(),
    otherEngine: z.boolean(),
  })
  .partial()
  .strict();

const MAX_JOBS = 10_000;
export const jobsSchema = z
  .object({
    format: z.literal("pale-halo-jobs"),
    version: z.literal(1),
    defaults: optionsSchema.default({}).describe("for every job that does not say otherwise"),
    jobs: z
      .array(optionsSchema.extend({ name: text.optional().describe("what the job is called in what is told") }))
      .min(1)
      .max(MAX_JOBS),
  })
  .strict();
type Job = z.infer<typeof jobsSchema>["jobs"][number];

const flagOf = (name: string) => `--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`;

/** A job as the command line of `render`. */
export function argumentsOf({ name: _, ...options }: Job): string[] {
  return Object.entries(options).flatMap(([option, value]) => {
    const flag = flagOf(option);
    if (value === undefined || value === false) return [];
    if (value === true) return [flag];
    if (Array.isArray(value)) return value.flatMap((one) => [flag, one]);
    if (typeof value === "object") return Object.entries(value).flatMap(([plate, path]) => [flag, `${plate}=${path}`]);
    return [flag, String(value)];
  });
}
