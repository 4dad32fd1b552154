/** Profiles from and to other files: tables as CSV, camera calibrations, radial polynomials and distortion maps. */
import { readFileSync, statSync } from "node:fs";
import { basename, dirname, extname } from "node:path";
import { parse as parseYaml, stringify } from "yaml";
import { z } from "zod";
import {
  CalibrationProblem,
  calibrationOf,
  calibrationSchema,
  lensOfCalibration,
} from "../../core/profile/calibration";
import { type LensProfile, profileSchema, type Profile } from "../../core/profile/profiles";
import { lensOfRadial, type Normalisation, radialOf, RadialProblem, radialSchema } from "../../core/profile/radial";
import { CsvProblem, fromCsv, toCsv } from "../../core/profile/sheets/csv";
import { slugOf } from "../../core/profile/slug";
import { writeWhole } from "../../server/storage/files";
import { UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";
import { isMap, lensOfMapFile, mapFileOf } from "./distortion-maps";

export interface ConvertOptions {
  in: string;
  out: string;
  /** mm */
  sensor?: { width: number; height: number };
  /** px */
  size?: { width: number; height: number };
  /** mm */
  focal?: number;
  name?: string;
  /** A map takes the distortion off, and does not put it on. */
  inverse?: boolean;
  /** A polynomial is written, with r counted so. */
  radial?: Normalisation;
  json?: boolean;
}

/** mm, of a profile without distortion, which is refused. */
const DEFAULT_FOCAL = 50;
const MAX_BYTES = 8 * 2 ** 20;
const isYaml = (path: string) => /\.ya?ml$/i.test(path);
const isCsv = (path: string) => /\.csv$/i.test(path);

function textOf(path: string): string {
  const found = statSync(path, { throwIfNoEntry: false });
  if (!found?.isFile()) throw new UsageError(`--in ${path}: there is no such file`);
  if (found.size > MAX_BYTES) throw new UsageError(`--in ${path}: is larger than ${MAX_BYTES / 2 ** 20} MiB`);
  return readFileSync(path, "utf8");
}

/** What calibrations are written with beside plain YAML: a version in their first line, and a tag on each matrix. */
const plainYaml = (text: string) => text.replace(/^%YAML[^\n]*\n/, "").replace(/!!opencv-matrix/g, "");

/** The calibration or profile a text of JSON or YAML holds. Throws UsageError. */
function parsed(path: string, text: string): unknown {
  try {
    return isYaml(path) ? parseYaml(plainYaml(text)) : JSON.parse(text);
  } catch (error) {
    throw new UsageError(`--in ${path}: ${(error as Error).message.split("\n")[0]}`);
  }
}

const headOf = ({ in: path, name = basename(path, extname(path)) }: ConvertOptions) => ({
  id: slugOf(name, "lens"),
  name,
});

const has = (value: unknown, field: string) => typeof value === "object" && value !== null && field in value;

async function readProfile(options: ConvertOptions): Promise<Profile> {
  const { in: path, sensor } = options;
  if (isMap(path)) return lensOfMapFile(path, headOf(options), options);
  const text = textOf(path);
  if (isCsv(path)) return fromCsv(text);
  const read = parsed(path, text);
  if (has(read, "normalisation")) return lensOfRadial(radialSchema.parse(read), headOf(options));
  if (!has(read, "camera_matrix")) return profileSchema.parse(read);
  if (!sensor) throw new UsageError("--sensor: say what a calibration’s pictures were shot on, mm");
  return lensOfCalibration(calibrationSchema.parse(read), sensor.width, headOf(options));
}

const json = (value: unknown) => `${JSON.stringify(value, null, 1)}\n`;

function calibrationText(lens: LensProfile, focalLength: number, { sensor, size }: ConvertOptions): string {
  if (!sensor || !size) throw new UsageError("--sensor, --size: say what pictures the calibration is for");
  const calibration = calibrationOf(lens, focalLength, size, sensor.width);
  const matrix = calibration.camera_matrix;
  const rows = [0, 3, 6].map((first) => matrix.slice(first, first + 3));
  return stringify({ ...calibration, camera_matrix: rows });
}

/** What is written under a name. Throws UsageError, CalibrationProblem or RadialProblem. */
async function bytesFor(profile: Profile, options: ConvertOptions): Promise<Buffer> {
  const { out, sensor, radial } = options;
  if (isCsv(out)) return Buffer.from(toCsv(profile));
  if (!radial && !isYaml(out) && !isMap(out)) return Buffer.from(json(profile));
  if (profile.format !== "pale-halo-lens") throw new UsageError(`--out ${out}: a filter has no distortion`);
  const focalLength = options.focal ?? profile.distortion?.[0]?.focalLength ?? DEFAULT_FOCAL;
  if (isMap(out)) return mapFileOf(profile, { ...options, focal: focalLength });
  if (!radial) return Buffer.from(calibrationText(profile, focalLength, options));
  if (!sensor) throw new UsageError("--sensor: say how large the picture is that r is counted in, mm");
  return Buffer.from(json(radialOf(profile, focalLength, sensor, radial)));
}

/** Reads a profile of one kind of file and writes it as another. Throws UsageError. */
export async function convert(options: ConvertOptions): Promise<void> {
  const { in: path, out } = options;
  if (!/\.(json|csv|ya?ml|exr)$/i.test(out))
    throw new UsageError(`--out ${out}: ends in .json, .csv, .yaml, .yml or .exr`);
  if (options.radial && !/\.json$/i.test(out)) throw new UsageError(`--radial: is written as .json, not as ${out}`);
  refuseOverwriting("--out", [out], [{ path, what: "the file that is read" }]);
  try {
    const profile = await readProfile(options);
    const bytes = await bytesFor(profile, options);
    prepareOutput("--out", dirname(out));
    await writeWhole(out, bytes);
    if (options.json) console.log(JSON.stringify({ out, id: profile.id, name: profile.name }));
    else console.log(`${out}: ${profile.name}`);
  } catch (error) {
    if ([CsvProblem, CalibrationProblem, RadialProblem].some((kind) => error instanceof kind))
      throw new UsageError(`--in ${path}: ${(error as Error).message}`);
    if (error instanceof z.ZodError) {
      const { path: at, message } = error.issues[0]!;
      throw new UsageError(`--in ${path}: ${at.join(".") || "the file"}: ${message}`);
    }
    throw error;
  }
}
