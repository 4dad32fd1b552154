import { z } from "zod";
import { lerp, monotoneCubic } from "../maths/interpolate";
import { anamorphic, type Distortion, distortionOf, radialTangential, UNDISTORTED } from "./distortion";

/** Bounds that keep any table small; a measured lens has far fewer. */
const MAX_SAMPLES = 512;
const MAX_TABLES = 256;

const samples = (item: z.ZodNumber = z.number()) => z.array(item).min(1).max(MAX_SAMPLES);
const positive = z.number().positive();
const ascending = (values: number[]) => values.every((value, i) => i === 0 || value > values[i - 1]!);
const heights = samples(z.number().nonnegative()).refine(ascending, "must ascend").describe("Image heights, mm");
/** What a profile is called. */
export const profileName = z.string().min(1, "is empty; give it a name").max(120, "is longer than 120 characters");
/** A revision that is not the newest has its number after the name: `own-50@3`. */
export const profileId = z
  .string()
  .regex(/^[a-z0-9][a-z0-9-]{0,63}(@[1-9]\d{0,5})?$/, "lower-case letters, digits and hyphens");
const wording = z.string().max(2000);

/** Where numbers come from and how sure they are; may stand beside any table. */
const provenance = {
  origin: z
    .union([
      wording,
      z
        .object({
          kind: z.enum(["measured", "computed"]),
          by: wording.optional(),
          how: wording.optional(),
          when: wording.optional(),
        })
        .strict(),
    ])
    .optional(),
  uncertainty: z.union([z.number().nonnegative(), wording]).optional(),
};

const mtf = z
  .object({
    focalLength: positive.describe("mm"),
    stop: positive.describe("T-stop"),
    heights,
    frequencies: samples(z.number().nonnegative()).refine(ascending, "must ascend").describe("lp/mm"),
    sagittal: z.array(samples(z.number().min(0).max(1.5))).describe("Contrast, one row a height"),
    meridional: z.array(samples(z.number().min(0).max(1.5))).describe("Contrast, one row a height"),
    ...provenance,
  })
  .strict()
  .superRefine((table, context) => {
    for (const direction of ["sagittal", "meridional"] as const) {
      if (
        table[direction].length !== table.heights.length ||
        table[direction].some((row) => row.length !== table.frequencies.length)
      )
        context.addIssue({
          code: "custom",
          path: [direction],
          message: `needs ${table.heights.length} rows of ${table.frequencies.length} contrasts`,
        });
    }
  });

const distortion = z.discriminatedUnion("model", [
  z
    .object({
      focalLength: positive.describe("mm"),
      model: z.literal("radial-tangential"),
      coefficients: radialTangential,
      ...provenance,
    })
    .strict(),
  z
    .object({
      focalLength: positive.describe("mm"),
      model: z.literal("anamorphic"),
      coefficients: anamorphic,
      ...provenance,
    })
    .strict(),
]);

const sameLength =
  (...names: string[]) =>
  (table: Record<string, unknown>, context: z.RefinementCtx) => {
    const [first, ...rest] = names.map((name) => (table[name] as unknown[]).length);
    rest.forEach((length, i) => {
      if (length !== first)
        context.addIssue({
          code: "custom",
          path: [names[i + 1]!],
          message: `needs ${first} values, one for each of ${names[0]}; has ${length}`,
        });
    });
  };

const lateralColour = z
  .object({
    focalLength: positive.describe("mm"),
    heights,
    red: samples().describe("Radial displacement against green, µm"),
    blue: samples().describe("Radial displacement against green, µm"),
    ...provenance,
  })
  .strict()
  .superRefine(sameLength("heights", "red", "blue"));

const illumination = z
  .object({
    focalLength: positive.describe("mm"),
    stop: positive.describe("T-stop"),
    heights,
    relative: samples(z.number().min(0.001).max(2)).describe("Light against the axis"),
    ...provenance,
  })
  .strict()
  .superRefine(sameLength("heights", "relative"));

const transmission = z
  .object({
    wavelengths: samples(z.number().min(200).max(1200)).refine(ascending, "must ascend").describe("nm"),
    values: samples(z.number().min(0).max(1.2)),
    ...provenance,
  })
  .strict()
  .superRefine(sameLength("wavelengths", "values"));

/** A streak's long tail is a second exponential this many times as long as the first. */
export const STREAK_TAIL_RATIO = 4;

const triple = z.tuple([z.number().nonnegative(), z.number().nonnegative(), z.number().nonnegative()]);
const streak = z
  .object({
    length: triple.describe("e-folding length of red, green, blue, % of frame width"),
    tail: z.number().min(0).max(1).describe("How much of the light is in the long tail"),
    thickness: z.number().min(0.02).max(3).describe("Standard deviation, % of frame height"),
    gain: z.number().nonnegative().describe("Streak light over source light, %"),
    tint: triple,
    ...provenance,
  })
  .strict();

export const lensSchema = z
  .object({
    format: z.literal("pale-halo-lens"),
    version: z.literal(1),
    id: profileId,
    name: profileName,
    set: z.string().max(120).optional(),
    squeeze: z.number().min(0.25).max(4).default(1),
    imageCircle: positive.max(500).optional().describe("Diameter, mm"),
    focalLengths: samples(positive).optional().describe("mm"),
    stops: samples(positive).optional().describe("T-stops measured"),
    notes: wording.optional(),
    mtf: z.array(mtf).max(MAX_TABLES).optional(),
    distortion: z.array(distortion).max(MAX_TABLES).optional(),
    lateralColour: z.array(lateralColour).max(MAX_TABLES).optional(),
    illumination: z.array(illumination).max(MAX_TABLES).optional(),
    transmission: transmission.optional(),
    veil: z
      .object({ fraction: z.number().min(0).max(50).describe("% of the frame's mean light"), ...provenance })
      .strict()
      .optional(),
    streak: streak.optional(),
    ghosts: z
      .array(
        z
          .object({
            factor: z.number().min(-3).max(3),
            gain: z.number(),
            defocus: z.number(),
            tint: triple,
            ...provenance,
          })
          .strict(),
      )
      .max(64)
      .optional(),
    pupil: z
      .object({
        blades: z.number().int().min(0).max(24),
        roundness: z.number().min(0).max(1),
        catEye: samples().optional(),
        rim: z.number().optional(),
        ...provenance,
      })
      .strict()
      .optional(),
    swirl: z
      .object({ degrees: z.number(), exponent: z.number(), innerRadius: z.number().optional(), ...provenance })
      .strict()
      .optional(),
    ...provenance,
  })
  .strict();

export type LensProfile = z.infer<typeof lensSchema>;

/** A lens of which nothing is known but its distortion at one focal length. */
export const lensOfDistortion = (
  head: Pick<LensProfile, "id" | "name">,
  table: NonNullable<LensProfile["distortion"]>[number],
): LensProfile => ({
  format: "pale-halo-lens",
  version: 1,
  ...head,
  squeeze: 1,
  focalLengths: [table.focalLength],
  distortion: [table],
});

/**
 * Blends functions of image height between the measurements around `at`, linear over the logarithm; held outside them.
 */
function between<T>(
  entries: T[],
  keyOf: (entry: T) => number,
  at: number,
  value: (entries: T[]) => (x: number) => number,
): (x: number) => number {
  const groups = [...new Set(entries.map(keyOf))]
    .sort((a, b) => a - b)
    .map((p) => ({ p, of: value(entries.filter((entry) => keyOf(entry) === p)) }));
  const above = groups.find(({ p }) => p >= at) ?? groups.at(-1)!;
  const below = groups.findLast(({ p }) => p <= at) ?? groups[0]!;
  if (above.p <= below.p) return above.of;
  const t = Math.log(at / below.p) / Math.log(above.p / below.p);
  return (x) => lerp(below.of(x), above.of(x), t);
}

/** Relative illumination against image height (mm) at a focal length (mm) and stop. */
export function illuminationAt(
  lens: LensProfile,
  focalLength: number,
  stop: number,
): ((height: number) => number) | null {
  if (!lens.illumination?.length) return null;
  return between(
    lens.illumination,
    (t) => t.focalLength,
    focalLength,
    (sameFocal) =>
      between(
        sameFocal,
        (t) => t.stop,
        stop,
        ([table]) => monotoneCubic(table!.heights, table!.relative),
      ),
  );
}

export type ContrastDirection = "sagittal" | "meridional";

/**
 * Contrast against frequency (lp/mm) and image height (mm) at a focal length (mm) and stop: monotone cubic over both.
 */
export function contrastOf(
  lens: LensProfile,
  focalLength: number,
  stop: number,
  direction: ContrastDirection,
): ((frequency: number, height: number) => number) | null {
  const entries = lens.mtf;
  if (!entries?.length) return null;
  const tables = entries.map((table) => ({
    table,
    curves: table[direction].map((row) => monotoneCubic(table.frequencies, row)),
  }));
  return (frequency, height) => {
    const alongHeights = ({ table, curves }: (typeof tables)[number]) =>
      monotoneCubic(
        table.heights,
        curves.map((curve) => curve(frequency)),
      );
    return between(
      tables,
      ({ table }) => table.focalLength,
      focalLength,
      (sameFocal) =>
        between(
          sameFocal,
          ({ table }) => table.stop,
          stop,
          ([entry]) => alongHeights(entry!),
        ),
    )(height);
  };
}

/** Radial displacement of one channel (µm) against image height (mm) at a focal length (mm). */
export function lateralColourAt(
  lens: LensProfile,
  focalLength: number,
  channel: "red" | "blue",
): ((height: number) => number) | null {
  if (!lens.lateralColour?.length) return null;
  return between(
    lens.lateralColour,
    (t) => t.focalLength,
    focalLength,
    ([table]) => monotoneCubic(table!.heights, table![channel]),
  );
}

/** The distortion at a focal length: coefficients blended between the measurements around it. */
export function distortionAt(lens: LensProfile, focalLength: number): Distortion | null {
  const entries = lens.distortion;
  if (!entries?.length) return null;
  const coefficient = (name: keyof Distortion) =>
    between(
      entries,
      (t) => t.focalLength,
      focalLength,
      ([table]) =>
        () =>
          distortionOf(table!)[name],
    )(0);
  return Object.fromEntries(
    Object.keys(UNDISTORTED).map((name) => [name, coefficient(name as keyof Distortion)]),
  ) as Distortion;
}
