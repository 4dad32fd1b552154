/** Profiles from and to other files: tables as CSV, camera calibrations, radial polynomials and distortion maps. */
import { readFileSync, statSync } from "node:fs";
import { dirname } from "node:path";
import { MAX_PROFILE_FILE, type ProfileForm } from "../../contract/cabinet";
import type { Normalisation } from "../../core/profile/radial";
import {
  fileOfProfile,
  formOfName,
  LacksShotWith,
  ProfileFileProblem,
  profileOfFile,
} from "../../server/cabinet/files";
import { type Doing, putFile } from "../doing";
import { UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

export interface ConvertOptions extends Doing {
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
}

const shotWith = ({ sensor, size, focal, inverse, radial }: ConvertOptions) => ({
  sensor,
  size,
  focalLength: focal,
  inverse,
  unit: radial,
});

function bytesOf(path: string): Buffer {
  const found = statSync(path, { throwIfNoEntry: false });
  if (!found?.isFile()) throw new UsageError(`--in ${path}: there is no such file`);
  if (found.size > MAX_PROFILE_FILE)
    throw new UsageError(`--in ${path}: is larger than ${MAX_PROFILE_FILE / 2 ** 20} MiB`);
  return readFileSync(path);
}

/** The form that a name and an option ask for. Throws UsageError. */
function formFor({ out, radial }: ConvertOptions): ProfileForm {
  const form = formOfName(out);
  if (!form) throw new UsageError(`--out ${out}: ends in .json, .csv, .yaml, .yml or .exr`);
  if (radial && form !== "json") throw new UsageError(`--radial: is written as .json, not as ${out}`);
  if (radial) return "polynomial";
  return form === "yaml" ? "calibration" : form;
}

/** The command line's names of what a file does not say of its pictures. */
const OPTIONS: Record<LacksShotWith["fields"][number], string> = {
  sensor: "--sensor",
  size: "--size",
  focalLength: "--focal",
  inverse: "--inverse",
  unit: "--radial",
};

/** Names the option or the file that a problem is of. */
export function asUsage(path: string, error: unknown): unknown {
  if (error instanceof LacksShotWith)
    return new UsageError(`${error.fields.map((field) => OPTIONS[field]).join(", ")}: ${error.what}`);
  return error instanceof ProfileFileProblem ? new UsageError(`${path}: ${error.message}`) : error;
}

/** Reads a profile of one kind of file and writes it as another. Throws UsageError. */
export async function convert(options: ConvertOptions): Promise<void> {
  const { in: path, out } = options;
  const form = formFor(options);
  refuseOverwriting("--out", [out], [{ path, what: "the file that is read" }]);
  try {
    const profile = await profileOfFile(path, bytesOf(path), shotWith(options), options.name);
    const bytes = await fileOfProfile(profile, form, shotWith(options));
    prepareOutput("--out", dirname(out), options.dryRun);
    await putFile(out, bytes, options);
    if (options.json) console.log(JSON.stringify({ out, id: profile.id, name: profile.name }));
    else console.log(`${out}: ${profile.name}`);
  } catch (error) {
    throw asUsage(`--in ${path}`, error);
  }
}
