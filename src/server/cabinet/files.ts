/** Profiles from and to files of every form: JSON, CSV, camera calibrations, radial polynomials, distortion maps. */
import { basename, extname } from "node:path";
import { parse as parseYaml, stringify } from "yaml";
import { z } from "zod";
import type { ProfileFileReading, ProfileForm, ShotWith } from "../../contract/cabinet";
import {
  CalibrationProblem,
  calibrationOf,
  calibrationSchema,
  lensOfCalibration,
} from "../../core/profile/calibration";
import { distortionMap, distortionOfMap } from "../../core/profile/distortion-map";
import { distortionAt, lensOfDistortion } from "../../core/profile/lens";
import { problems, problemText } from "../../core/problems";
import { type LensProfile, profileSchema, type Profile } from "../../core/profile/profiles";
import { lensOfRadial, radialOf, RadialProblem, radialSchema } from "../../core/profile/radial";
import { fromCsv, toCsv } from "../../core/profile/sheets/csv";
import { slugOf } from "../../core/profile/slug";
import { writeExr } from "../../formats/exr/write";
import { FileError } from "../../formats/error";
import { readImage } from "../../formats/formats";
import { Refusal } from "../errors/errors";

/** A file that is no profile, or a profile that cannot be written so; everything that is wrong, each with its place. */
export class ProfileFileProblem extends Error {
  constructor(readonly problems: readonly string[]) {
    super(problems.slice(0, 3).join("; "));
  }
}

/** What is still to be said before a file can be read or written, by the name of its field. */
export class LacksShotWith extends Error {
  constructor(
    readonly fields: readonly (keyof ShotWith)[],
    /** What is to be said, in words. */
    readonly what: string,
  ) {
    super(what);
  }
}

/** mm, of a profile without distortion, which is refused. */
const DEFAULT_FOCAL = 50;
const MAX_TEXT_BYTES = 8 * 2 ** 20;

/** The form a file's name says. */
export function formOfName(name: string): "json" | "csv" | "yaml" | "map" | null {
  switch (extname(name).toLowerCase()) {
    case ".json":
      return "json";
    case ".csv":
      return "csv";
    case ".yaml":
    case ".yml":
      return "yaml";
    case ".exr":
      return "map";
    default:
      return null;
  }
}

/** What calibrations are written with beside plain YAML: a version in their first line, and a tag on each matrix. */
const plainYaml = (text: string) => text.replace(/^%YAML[^\n]*\n/, "").replace(/!!opencv-matrix/g, "");

const has = (value: unknown, field: string) => typeof value === "object" && value !== null && field in value;

/** Reads with a schema; throws ProfileFileProblem with every fault by its path. */
function checked<T>(schema: z.ZodType<T>, value: unknown): T {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  throw new ProfileFileProblem(problems(schema, value));
}

async function lensOfMap(name: string, bytes: Buffer, head: { id: string; name: string }, shot: ShotWith) {
  const { sensor, focalLength, inverse = false } = shot;
  if (!sensor || !focalLength)
    throw new LacksShotWith(["sensor", "focalLength"], "say what the map’s pictures were shot on and with, mm");
  const { width, height, pixels, info } = await readImage(name, bytes);
  if (pixels.depth !== "half" && pixels.depth !== "float")
    throw new ProfileFileProblem([`a map’s places are floats; its samples are of ${info.depth} bits`]);
  const found = distortionOfMap(pixels.data, { width, height, sensor, focalLength }, inverse);
  if (!found) throw new ProfileFileProblem(["red and green hold no places, 0 to 1, over most of the picture"]);
  const residual = (found.residual * focalLength * width) / sensor.width;
  return lensOfDistortion(head, {
    ...found.table,
    origin: { kind: "computed", how: "from a distortion map" },
    uncertainty: `${residual.toPrecision(2)} px from the map, root mean square`,
  });
}

/**
 * The profile a file holds, whatever its form. `title`: what a lens is called that its file has no name for.
 * Throws ProfileFileProblem, LacksShotWith, or FileError for a map that cannot be read.
 */
export async function profileOfFile(
  name: string,
  bytes: Buffer,
  shot: ShotWith = {},
  title = basename(name, extname(name)),
): Promise<Profile> {
  const form = formOfName(name);
  const head = { id: slugOf(title, "lens"), name: title };
  if (!form) throw new ProfileFileProblem(["a profile’s file ends in .json, .csv, .yaml, .yml or .exr"]);
  if (form === "map") return lensOfMap(name, bytes, head, shot);
  if (bytes.length > MAX_TEXT_BYTES) throw new ProfileFileProblem([`is larger than ${MAX_TEXT_BYTES / 2 ** 20} MiB`]);
  const text = bytes.toString("utf8");
  try {
    if (form === "csv") return fromCsv(text);
    const read: unknown = form === "yaml" ? parseYaml(plainYaml(text)) : JSON.parse(text);
    if (has(read, "normalisation")) return lensOfRadial(checked(radialSchema, read), head);
    if (!has(read, "camera_matrix")) return checked(profileSchema, read);
    const calibration = checked(calibrationSchema, read);
    if (!shot.sensor) throw new LacksShotWith(["sensor"], "say what a calibration’s pictures were shot on, mm");
    return lensOfCalibration(calibration, shot.sensor.width, head);
  } catch (error) {
    if (error instanceof LacksShotWith || error instanceof ProfileFileProblem) throw error;
    if (error instanceof z.ZodError)
      throw new ProfileFileProblem(error.issues.map(({ path, message }) => problemText({ path, message })));

    throw new ProfileFileProblem([(error as Error).message.split("\n")[0]!]);
  }
}

/** The same for a page that asks for what is lacking: only a file that cannot be read at all is an error. */
export const readingOfFile = (name: string, bytes: Buffer, shot: ShotWith): Promise<ProfileFileReading> =>
  profileOfFile(name, bytes, shot).then(
    (profile) => ({ profile }),
    (error: unknown) => {
      if (error instanceof LacksShotWith) return { lacks: error.fields, what: error.message };
      if (error instanceof ProfileFileProblem) return { problems: error.problems };
      if (error instanceof FileError) return { problems: [error.message] };
      throw error;
    },
  );

const json = (value: unknown) => Buffer.from(`${JSON.stringify(value, null, 1)}\n`);

function calibrationFile(lens: LensProfile, focalLength: number, { sensor, size }: ShotWith): Buffer {
  if (!sensor || !size)
    throw new LacksShotWith(["sensor", "size"], "say what pictures the calibration is for, mm and px");
  const calibration = calibrationOf(lens, focalLength, size, sensor.width);
  const matrix = calibration.camera_matrix;
  const rows = [0, 3, 6].map((first) => matrix.slice(first, first + 3));
  return Buffer.from(stringify({ ...calibration, camera_matrix: rows }));
}

/** An EXR file with the map of a lens's distortion. `beyond`: pixels it holds around the picture. */
export function mapFile(
  lens: LensProfile,
  focalLength: number,
  { sensor, size, inverse = false }: ShotWith,
  beyond = 0,
): Promise<Buffer> {
  if (!sensor || !size) throw new LacksShotWith(["sensor", "size"], "say what pictures the map is for, mm and px");
  const distortion = distortionAt(lens, focalLength);
  if (!distortion) throw new ProfileFileProblem(["distortion: the profile has none"]);
  return fileOfMap(distortionMap(distortion, { ...size, sensor, focalLength, beyond }, inverse), size, beyond);
}

/** A map of places as an OpenEXR file; `beyond`: px that it holds around the picture. */
export function fileOfMap(data: Float32Array, size: { width: number; height: number }, beyond = 0): Promise<Buffer> {
  const display = { left: 0, top: 0, right: size.width - 1, bottom: size.height - 1 };
  const held = { left: -beyond, top: -beyond, right: display.right + beyond, bottom: display.bottom + beyond };
  const picture = { width: size.width + 2 * beyond, height: size.height + 2 * beyond, data, hasAlpha: false };
  return writeExr(picture, { depth: "float", primaries: null, windows: { data: held, display } });
}

/** A profile as a file of a form. Throws ProfileFileProblem and LacksShotWith. */
export async function fileOfProfile(profile: Profile, form: ProfileForm, shot: ShotWith = {}): Promise<Buffer> {
  if (form === "json") return json(profile);
  if (form === "csv") return Buffer.from(toCsv(profile));
  if (profile.format !== "pale-halo-lens") throw new ProfileFileProblem(["a filter has no distortion"]);
  const focalLength = shot.focalLength ?? profile.distortion?.[0]?.focalLength ?? DEFAULT_FOCAL;
  try {
    if (form === "map") return await mapFile(profile, focalLength, shot);
    if (form === "calibration") return calibrationFile(profile, focalLength, shot);
    const { sensor, unit = "focal length" } = shot;
    if (!sensor) throw new LacksShotWith(["sensor"], "say how large the picture is that r is counted in, mm");
    return json(radialOf(profile, focalLength, sensor, unit));
  } catch (error) {
    if (error instanceof CalibrationProblem || error instanceof RadialProblem)
      throw new ProfileFileProblem([error.message]);
    throw error;
  }
}

/** What a writer of files refuses, as an answer: every problem, or the fields that are wanted. */
export function asRefusal(error: unknown): unknown {
  if (error instanceof LacksShotWith) return new Refusal("invalid", error.message, { lacks: error.fields });
  if (error instanceof ProfileFileProblem)
    return new Refusal("unreadable", error.message, { problems: error.problems });
  return error;
}
