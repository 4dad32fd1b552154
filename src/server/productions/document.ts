import { z } from "zod";
import { sensorSideSchema, squeezeSchema } from "../../core/frame/camera";
import { depthPlateSchema } from "../../core/frame/depth-plate";
import { GAPS } from "../../core/frame/gaps";
import { countOf, MAX_FRAME } from "../../core/frame/ranges";
import { DEPTHS } from "../../core/image/image";

/**
 * A production as it goes from one installation to another: a folder, or a zip of it. `production.json` says what is in
 * it; looks, stills, profiles, encodings and tables lie beside it, each in a file of its own. Footage is named by the
 * hash of each of its files, and does not go along.
 */
export const DOCUMENT = "production.json";
export const FORMAT = "pale-halo-production";

const MAX_SHOTS = 5000;
const MAX_FILES = 200_000;
const MAX_KEPT = 10_000;

/** As shots are called here: a part of addresses and of file names. */
const SHOT_ID = /^[A-Za-z0-9][A-Za-z0-9_-]{0,79}$/;
/** A file's name, which leads nowhere else. */
const fileName = z
  .string()
  .min(1)
  .max(300)
  .refine((name) => !/[\\/\0]/.test(name) && !name.startsWith("."), "the name of a file, without a folder");
/** Frames that footage has at most. */
const MAX_FRAMES = 10_000_000;

const text = (longest: number) => z.string().min(1).max(longest);
const id = text(80);
const whole = z.number().int().nonnegative().max(MAX_FRAME);
const side = z.number().int().positive().max(65_536);
/** Who made it, and when. */
const made = { madeBy: z.string().max(120).nullable().default(null), created: z.iso.datetime() };

const ranges = z
  .array(z.tuple([z.number().int(), z.number().int()]).refine(([first, last]) => first <= last))
  .max(MAX_FILES)
  .refine((all) => all.every(([first], i) => !i || first > all[i - 1]![1] + 1), "runs of frames, ascending");

const footageSchema = z
  .object({
    /** Name of its files, as the database keeps it: %04d stands for the number, %% for a percent sign. */
    pattern: fileName,
    frames: ranges.min(1).refine((all) => countOf(all) <= MAX_FRAMES, `at most ${MAX_FRAMES} frames`),
    width: side,
    height: side,
    depth: z.enum(DEPTHS),
    format: text(40),
    channels: z.array(z.string().max(255)).max(1024),
    framesPerSecond: z.number().positive().nullable(),
    timeCode: z.string().max(40).nullable(),
    part: z.string().max(255).nullable(),
    layer: z.string().max(255).nullable(),
    /** Its files in the order of their frames; the hash is of their bytes. Without those that were not there. */
    files: z
      .array(
        z
          .object({
            name: fileName,
            bytes: z.number().int().nonnegative(),
            sha256: z.string().regex(/^[0-9a-f]{64}$/, "64 digits"),
          })
          .strict(),
      )
      .max(MAX_FILES),
  })
  .strict();
export type FootageReference = z.infer<typeof footageSchema>;

const shotSchema = z
  .object({
    id: z.string().regex(SHOT_ID, "an id is letters, digits, lines and hyphens, up to 80"),
    name: text(120),
    encoding: text(120),
    encodingReason: z.string().max(1000),
    sensorWidth: sensorSideSchema,
    sensorHeight: sensorSideSchema,
    squeeze: squeezeSchema,
    desqueezed: z.boolean(),
    frameRate: z.number().positive().max(1000),
    firstFrame: whole.nullable(),
    lastFrame: whole.nullable(),
    gaps: z.enum(GAPS),
    depthChannel: z.string().max(255).nullable(),
    depth: depthPlateSchema.nullable(),
    notes: z.string().max(10_000),
    position: z.number().int(),
    footage: footageSchema,
    versions: z
      .array(
        z
          .object({
            number: whole.min(1),
            name: text(200),
            note: z.string().max(10_000),
            /** Revisions of the profiles it was kept with, by their ids. */
            glass: z.record(text(120), z.number().int().positive()),
            ...made,
          })
          .strict(),
      )
      .max(MAX_KEPT),
    stills: z
      .array(
        z
          .object({
            number: whole.min(1),
            frame: whole,
            note: z.string().max(10_000),
            width: side,
            height: side,
            ...made,
          })
          .strict(),
      )
      .max(MAX_KEPT),
  })
  .strict();
export type ShotDocument = z.infer<typeof shotSchema>;

const unique = (all: readonly { id: string }[]) => new Set(all.map((one) => one.id)).size === all.length;
const listOf = <T extends z.ZodType<{ id: string }>>(schema: T, most: number) =>
  z.array(schema).max(most).refine(unique, "an id stands in it twice");

export const documentSchema = z
  .object({
    format: z.literal(FORMAT),
    version: z.literal(1),
    name: text(120),
    /** Version of the engine that its pictures were made with. */
    engine: z.number().int().positive(),
    shots: listOf(shotSchema, MAX_SHOTS),
    /** With the earlier revisions that versions were kept with. */
    profiles: listOf(
      z
        .object({ id, revision: z.number().int().positive(), earlier: z.array(z.number().int().positive()).max(1000) })
        .strict(),
      2000,
    ),
    encodings: listOf(z.object({ id }).strict(), 1000),
    tables: listOf(z.object({ id, name: text(300), file: fileName }).strict(), 1000),
    /** What its looks take and it does not hold, in words. */
    lacks: z.array(z.string().max(500)).max(MAX_KEPT),
  })
  .strict();
export type ProductionDocument = z.infer<typeof documentSchema>;

/** An id as a file's name. */
const nameOf = (name: string) => encodeURIComponent(name).replaceAll(".", "%2E");

/** Where everything lies in the folder. */
export const FILES = {
  look: (shot: string) => `shots/${nameOf(shot)}/look.json`,
  version: (shot: string, number: number) => `shots/${nameOf(shot)}/version-${number}.json`,
  stillLook: (shot: string, number: number) => `shots/${nameOf(shot)}/still-${number}.json`,
  stillPicture: (shot: string, number: number) => `shots/${nameOf(shot)}/still-${number}.exr`,
  profile: (profile: string) => `profiles/${nameOf(profile)}.json`,
  earlierProfile: (profile: string, revision: number) => `profiles/${nameOf(profile)}@${revision}.json`,
  encoding: (encoding: string) => `encodings/${nameOf(encoding)}.json`,
  table: (table: string) => `tables/${nameOf(table)}.txt`,
};
