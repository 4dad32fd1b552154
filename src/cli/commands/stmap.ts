import { dirname } from "node:path";
import { Command } from "commander";
import { formOfName, mapFile } from "../../server/cabinet/files";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { numberOption, sensorOption, sizeOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";
import { profileNamed } from "../profiles";
import { asUsage } from "./profile-files";
import { focalLengthOption } from "./measure/chart";

interface Options extends Doing {
  profile: string;
  focal: number;
  size: { width: number; height: number };
  sensor: { width: number; height: number };
  out: string;
  inverse?: boolean;
  overscan: number;
}

/** Overscan a map may have on each side, % of the picture's width. */
const MAX_OVERSCAN = 25;

async function run({ profile, focal, size, sensor, out, inverse, overscan, json, dryRun }: Options): Promise<void> {
  if (formOfName(out) !== "map") throw new UsageError(`--out ${out}: ends in .exr`);
  const lens = profileNamed("--profile", profile);
  if (lens.format !== "pale-halo-lens") throw new UsageError(`--profile ${profile}: a filter has no distortion`);
  refuseOverwriting("--out", [out], [{ path: profile, what: "the profile" }]);
  prepareOutput("--out", dirname(out), dryRun);
  const beyond = Math.round((overscan / 100) * size.width);
  const bytes = await mapFile(lens, focal, { size, sensor, inverse }, beyond).catch((error: unknown) => {
    throw asUsage(`--profile ${profile}`, error);
  });
  await putFile(out, bytes, { dryRun });
  const does = inverse ? "takes the distortion off" : "puts the distortion on";
  if (json)
    console.log(JSON.stringify({ out, profile: lens.id, focalLength: focal, inverse: Boolean(inverse), beyond }));
  else console.log(`${out}: ${does}, ${lens.name} at ${focal} mm${beyond ? `, ${beyond} px beyond the picture` : ""}`);
}

export const stmapCommand = (): Command =>
  new Command("stmap")
    .description("Writes a lens’s distortion as a map: from where each pixel is fetched, across in red, up in green")
    .requiredOption("--profile <file or id>", "the lens")
    .requiredOption("--focal <mm>", "focal length", focalLengthOption)
    .requiredOption("--size <size>", "of the picture, WIDTHxHEIGHT in px", sizeOption)
    .requiredOption("--sensor <size>", "WIDTHxHEIGHT in mm", sensorOption)
    .requiredOption("--out <file>", "an .exr file, 32-bit floats")
    .option("--inverse", "the map takes the distortion off a picture, and does not put it on")
    .option("--overscan <%>", "of the width, held beyond the picture on each side", numberOption(0, MAX_OVERSCAN), 0)
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
