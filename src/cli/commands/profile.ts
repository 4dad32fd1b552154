import { dirname, resolve } from "node:path";
import { Command } from "commander";
import { filesOf, type Manifest, manifestSchema, profileFrom } from "../../core/measure/manifest";
import { MeasureError } from "../../core/measure/plane";
import { BetweenProblem, lensBetween } from "../../core/profile/between";
import type { Profile } from "../../core/profile/profiles";
import { NORMALISATIONS } from "../../core/profile/radial";
import { parse } from "../files";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { choiceOption, sensorOption, sizeOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";
import { profileNamed } from "../profiles";
import { focalLengthOption, readChart } from "./measure/chart";
import { convert, type ConvertOptions } from "./profile-files";

interface Options extends Doing {
  from: string;
  out: string;
}

const LENS_TABLES = ["mtf", "illumination", "distortion", "lateralColour"] as const;
const LENS_PARTS = ["transmission", "veil", "streak", "pupil"] as const;

/** Charts of a manifest's frames; files lie beside the manifest unless their paths are whole. */
const chartsIn = (manifest: Manifest, folder: string) => async (frame: Manifest["frames"][number]) =>
  Promise.all(
    filesOf(frame).map((file) =>
      readChart({
        in: resolve(folder, file),
        sensor: manifest.sensor,
        region: "region" in frame ? frame.region : undefined,
        inEncoding: manifest.encoding,
      }),
    ),
  );

async function measure({ from, out, json, dryRun }: Options): Promise<void> {
  const manifest: Manifest = parse(from, manifestSchema);
  const folder = dirname(resolve(from));
  const read = manifest.frames
    .flatMap(filesOf)
    .map((file) => ({ path: resolve(folder, file), what: "a measured frame" }));
  refuseOverwriting("--out", [out], [{ path: from, what: "the manifest" }, ...read]);
  prepareOutput("--out", dirname(out), dryRun);
  try {
    const profile = await profileFrom(manifest, chartsIn(manifest, folder));
    await putFile(out, Buffer.from(`${JSON.stringify(profile, null, 1)}\n`), { dryRun });
    const tables =
      profile.format === "pale-halo-filter"
        ? { grades: profile.grades.length }
        : Object.fromEntries([
            ...LENS_TABLES.map((name) => [name, profile[name]?.length ?? 0]),
            ...LENS_PARTS.map((name) => [name, profile[name] ? 1 : 0]),
          ]);
    if (json) return console.log(JSON.stringify({ out, id: profile.id, tables }));
    console.log(`${out}: ${profile.name}`);
    for (const [name, count] of Object.entries(tables)) if (count) console.log(`${name}: ${count}`);
  } catch (error) {
    throw error instanceof MeasureError ? new UsageError(`${from}: ${error.message}`) : error;
  }
}

type Converting = ConvertOptions & Options & { between: [string, string] };

/** The lens between two of a set, at a focal length of its own. */
async function between({ between: names, focal, out, name, json, dryRun }: Converting): Promise<void> {
  if (!focal) throw new UsageError("--focal: say at which focal length, mm");
  if (names.length !== 2) throw new UsageError("--between: names two lenses");
  const [one, other] = names.map((named) => profileNamed("--between", named)) as [Profile, Profile];
  if (one.format !== "pale-halo-lens" || other.format !== "pale-halo-lens")
    throw new UsageError("--between: two lenses are wanted; there is nothing between filters");
  refuseOverwriting(
    "--out",
    [out],
    names.map((path) => ({ path, what: "a profile that is read" })),
  );
  try {
    const lens = lensBetween(one, other, focal, name);
    prepareOutput("--out", dirname(out), dryRun);
    await putFile(out, Buffer.from(`${JSON.stringify(lens, null, 1)}\n`), { dryRun });
    console.log(json ? JSON.stringify({ out, id: lens.id, name: lens.name }) : `${out}: ${lens.name}`);
  } catch (error) {
    throw error instanceof BetweenProblem ? new UsageError(`--between: ${error.message}`) : error;
  }
}

const run = (options: Partial<Converting>): Promise<void> => {
  const { from, in: path, between: names, out, json, dryRun } = options;
  if ([from, path, names].filter(Boolean).length !== 1)
    throw new UsageError("--from, --in or --between: say which frames were measured, which file is read, or which two");
  if (names) return between(options as Converting);
  return from ? measure({ from, out: out!, json, dryRun }) : convert({ ...options, in: path!, out: out! });
};

export const profileCommand = (): Command =>
  new Command("profile")
    .description("Makes a profile of measured frames, or of another file; writes one as another file")
    .option("--from <file>", "the manifest: what was shot, at which focal length and stop, JSON")
    .option(
      "--in <file>",
      "a profile (.json), its tables (.csv), a camera calibration (.json, .yaml, .yml), a radial polynomial (.json) or a distortion map (.exr)",
    )
    .requiredOption("--out <file>", "the profile (.json), its tables (.csv), a calibration (.yaml) or a map (.exr)")
    .option("--sensor <size>", "of a calibration’s or map’s pictures, WIDTHxHEIGHT in mm", sensorOption)
    .option("--size <size>", "of a calibration’s or map’s pictures, WIDTHxHEIGHT in px", sizeOption)
    .option(
      "--focal <mm>",
      "focal length of a map, or that a calibration or polynomial is written at",
      focalLengthOption,
    )
    .option("--between <files or ids...>", "two lenses of a set: the profile at --focal, which lies between theirs")
    .option("--name <name>", "of the profile that a calibration, polynomial or map becomes")
    .option("--inverse", "the map takes the distortion off a picture, and does not put it on")
    .addOption(
      choiceOption("--radial <unit>", "writes a radial polynomial (.json), with r counted in this", NORMALISATIONS),
    )
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
