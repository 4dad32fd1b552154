import { z } from "zod";
import { NORMALISATIONS } from "../core/profile/radial";
import { type Profile, profileSchema as profile } from "../core/profile/profiles";

/** A profile of the cabinet. */
export interface CabinetEntry {
  profile: Profile;
  /** It ships with the application, and stays as it is. */
  shipped: boolean;
  /** Id of the profile it began as a copy of. */
  copiedFrom: string | null;
  revision: number;
}

const revision = z.number().int().positive();

/** POST /api/cabinet: keeps a profile of one's own; where its id is taken it gets a number. */
export const keepProfileBody = z.object({ profile, copiedFrom: z.string().max(80).nullable().default(null) }).strict();

/** PUT /api/cabinet/ID: in place of the one of `revision`, which stays for versions that were kept with it. */
export const changeProfileBody = z.object({ profile, revision }).strict();

/** Forms of file a profile is written as. */
export const PROFILE_FORMS = ["json", "csv", "calibration", "polynomial", "map"] as const;
export type ProfileForm = (typeof PROFILE_FORMS)[number];

const MAX_SIDE_PX = 16384;
const sizeOf = (pattern: RegExp, example: string, largest: number) =>
  z
    .string()
    .regex(pattern, `write WIDTHxHEIGHT, for example ${example}`)
    .transform((text) => {
      const [width, height] = text.split("x").map(Number) as [number, number];
      return { width, height };
    })
    .refine(
      ({ width, height }) => Math.min(width, height) > 0 && Math.max(width, height) <= largest,
      "is out of range",
    );
const flag = z.enum(["0", "1"]).transform((text) => text === "1");

/** What pictures a calibration, a polynomial or a map is of, as an address has it. */
export const shotWithQuery = z
  .object({
    sensor: sizeOf(/^\d+(\.\d+)?x\d+(\.\d+)?$/, "24.9x14 (mm)", 200).optional(),
    size: sizeOf(/^\d+x\d+$/, "1920x1080 (px)", MAX_SIDE_PX).optional(),
    focalLength: z.coerce.number().min(1).max(5000).optional().describe("mm"),
    inverse: flag.optional().describe("a map takes the distortion off, and does not put it on"),
    unit: z.enum(NORMALISATIONS).optional().describe("what r = 1 is in a polynomial"),
  })
  .strict();
export type ShotWith = z.infer<typeof shotWithQuery>;

/** POST /api/cabinet/files?name=...: a file's bytes to the profile they hold; nothing is kept. */
export const readProfileQuery = shotWithQuery.extend({ name: z.string().min(1).max(200) }).strict();

/** A profile, or what keeps a file from being read as one: fields that are to be said, or everything that is wrong. */
export type ProfileFileReading =
  { profile: Profile } | { lacks: readonly (keyof ShotWith)[]; what: string } | { problems: readonly string[] };

/** GET /api/cabinet/ID/file?form=...: the profile as a file. */
export const writeProfileQuery = shotWithQuery.extend({ form: z.enum(PROFILE_FORMS) }).strict();

/** Bytes of a file that a profile is read from. */
export const MAX_PROFILE_FILE = 256 * 2 ** 20;
