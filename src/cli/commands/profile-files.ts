/** Profiles from and to other files: tables as CSV, and camera calibrations. */
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
import { profileSchema, type Profile } from "../../core/profile/profiles";
import { CsvProblem, fromCsv, toCsv } from "../../core/profile/sheets/csv";
import { slugOf } from "../../core/profile/slug";
import { writeWhole } from "../../server/storage/files";
import { UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

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

function readProfile({ in: path, sensor, name }: ConvertOptions): Profile {
  const text = textOf(path);
  if (isCsv(path)) return fromCsv(text);
  const read = parsed(path, text);
  if (typeof read !== "object" || read === null || !("camera_matrix" in read)) return profileSchema.parse(read);
  if (!sensor) throw new UsageError("--sensor: say what a calibration’s pictures were shot on, mm");
  const own = name ?? basename(path, extname(path));
  return lensOfCalibration(calibrationSchema.parse(read), sensor.width, { id: slugOf(own, "lens"), name: own });
}

function textFor(profile: Profile, { out, sensor, size, focal }: ConvertOptions): string {
  if (isCsv(out)) return toCsv(profile);
  if (!isYaml(out)) return `${JSON.stringify(profile, null, 1)}\n`;
  if (profile.format !== "pale-halo-lens") throw new UsageError(`--out ${out}: a filter is no camera calibration`);
  if (!sensor || !size) throw new UsageError("--sensor, --size: say what pictures the calibration is for");
  const measuredAt = profile.distortion?.[0]?.focalLength ?? DEFAULT_FOCAL;
  const calibration = calibrationOf(profile, focal ?? measuredAt, size, sensor.width);
  const matrix = calibration.camera_matrix;
  const rows = [0, 3, 6].map((first) => matrix.slice(first, first + 3));
  return stringify({ ...calibration, camera_matrix: rows });
}

/** Reads a profile of one kind of file and writes it as another. Throws UsageError. */
export async function convert(options: ConvertOptions): Promise<void> {
  const { in: path, out, json } = options;
  if (!/\.(json|csv|ya?ml)$/i.test(out)) throw new UsageError(`--out ${out}: ends in .json, .csv, .yaml or .yml`);
  refuseOverwriting("--out", [out], [{ path, what: "the file that is read" }]);
  try {
    const profile = readProfile(options);
    const text = textFor(profile, options);
    prepareOutput("--out", dirname(out));
    await writeWhole(out, Buffer.from(text));
    if (json) console.log(JSON.stringify({ out, id: profile.id, name: profile.name }));
    else console.log(`${out}: ${profile.name}`);
  } catch (error) {
    if (error instanceof CsvProblem || error instanceof CalibrationProblem)
      throw new UsageError(`--in ${path}: ${error.message}`);
    if (error instanceof z.ZodError) {
      const { path: at, message } = error.issues[0]!;
      throw new UsageError(`--in ${path}: ${at.join(".") || "the file"}: ${message}`);
    }
    throw error;
  }
}
