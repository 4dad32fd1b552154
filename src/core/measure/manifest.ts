/** Measured frames that one profile is made of, as a file says them. */
import { z } from "zod";
import type { FilterProfile, LensProfile } from "../profile/profiles";
import type { Chart } from "./chart";
import { MeasureError } from "./plane";
import { filterOf, lensOf, type Reading, readingOf } from "./readings";

const MAX_FRAMES = 200;
const millimetres = z.number().positive().max(5000);
const file = z.string().min(1).max(1000);
const stop = z.number().positive().max(128).describe("T-stop");
const region = z
  .object({ left: z.number().int(), top: z.number().int(), width: z.number().int(), height: z.number().int() })
  .strict();

const frameSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("edges"), file, focalLength: millimetres, stop, region: region.optional() }).strict(),
  z
    .object({
      kind: z.literal("flat"),
      file: file.optional(),
      files: z.array(file).min(1).max(2).optional().describe("two with the camera turned by 180° between them"),
      focalLength: millimetres,
      stop,
    })
    .strict()
    .refine(({ file: one, files }) => Boolean(one) !== Boolean(files), "names a file, or one or two files"),
  z
    .object({
      kind: z.literal("grid"),
      file,
      focalLength: millimetres,
      stop: stop.optional(),
      model: z.enum(["radial-tangential", "anamorphic"]).optional().describe("default: what the dots bear out"),
      region: region.optional(),
    })
    .strict(),
  z
    .object({
      kind: z.literal("pair"),
      without: file.describe("the scene without the filter"),
      with: file.describe("the scene with it"),
      focalLength: millimetres,
      grade: z.string().min(1).max(20).default("1"),
    })
    .strict(),
  z
    .object({
      kind: z.literal("point"),
      file: file.describe("small lamps in the dark: in focus for veil and streak, out of it for the pupil"),
      focalLength: millimetres,
      region: region.optional(),
    })
    .strict(),
  z
    .object({
      kind: z.literal("transmission"),
      without: file.describe("an even field without the glass"),
      with: file.describe("the same with it, of one exposure"),
      focalLength: millimetres,
    })
    .strict(),
]);
export type MeasuredFrame = z.infer<typeof frameSchema>;

/** What a lens was measured with: its frames, and what goes into its profile as it stands. */
export const manifestSchema = z
  .object({
    id: z.string().regex(/^[a-z0-9][a-z0-9-]{0,63}$/, "lower-case letters, digits and hyphens"),
    name: z.string().min(1).max(120),
    set: z.string().max(120).optional(),
    squeeze: z.number().min(0.25).max(4).default(1),
    imageCircle: z.number().positive().max(500).optional().describe("mm"),
    sensor: z.object({ width: millimetres, height: millimetres }).strict().describe("mm"),
    encoding: z.string().max(120).optional().describe("of all frames; else what each says of itself"),
    by: z.string().max(200).optional(),
    when: z.string().max(200).optional(),
    frames: z.array(frameSchema).min(1).max(MAX_FRAMES),
  })
  .strict();
export type Manifest = z.infer<typeof manifestSchema>;

/** The files of a frame, in order. */
export function filesOf(frame: MeasuredFrame): string[] {
  if (frame.kind === "pair" || frame.kind === "transmission") return [frame.without, frame.with];
  if (frame.kind === "flat" && frame.files) return frame.files;
  return [frame.file!];
}

/**
 * The profile that measured frames come to: a filter where they are pairs, else a lens. `chartsOf`: the charts of a
 * frame's files. Throws MeasureError that names the frame which cannot be measured.
 */
export async function profileFrom(
  manifest: Manifest,
  chartsOf: (frame: MeasuredFrame) => Promise<Chart[]>,
): Promise<LensProfile | FilterProfile> {
  const readings: Reading[] = [];
  for (const frame of manifest.frames) {
    try {
      readings.push(readingOf(frame, await chartsOf(frame)));
    } catch (error) {
      if (!(error instanceof MeasureError)) throw error;
      throw new MeasureError(`${filesOf(frame).join(", ")}: ${error.message}`);
    }
  }
  return readings[0]?.kind === "pair" ? filterOf(manifest, readings) : lensOf(manifest, readings);
}
