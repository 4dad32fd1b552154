import { basename, dirname } from "node:path";
import { Command } from "commander";
import { placesMap } from "../../core/export/places-map";
import { MAX_FRAME } from "../../core/frame/ranges";
import { madeBy, placesThrough } from "../../core/judge/places";
import { missingGlass } from "../../core/look/glass";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { fileOfMap, formOfName, mapFile } from "../../server/cabinet/files";
import { startEngine } from "../../server/engine/engine";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { readLook, readProfile } from "../files";
import { collect, numberOption, sensorOption, sizeOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";
import { profileNamed } from "../profiles";
import { asUsage } from "./profile-files";
import { focalLengthOption } from "./measure/chart";

interface Options extends Doing {
  look?: string;
  profile?: string[];
  focal?: number;
  size: { width: number; height: number };
  sensor?: { width: number; height: number };
  frame: number;
  out: string;
  inverse?: boolean;
  overscan: number;
}

/** Overscan a map may have on each side, % of the picture's width. */
const MAX_OVERSCAN = 25;
const THREADS = 2;

/** A map, and what it is of. */
interface Made {
  bytes: Buffer;
  of: string;
  told: object;
}

/** Of a lens as it was measured. */
async function mapOfLens({ profile = [], focal, size, sensor, inverse, overscan }: Options): Promise<Made> {
  const [name, ...further] = profile;
  if (name === undefined) throw new UsageError("--profile: name a lens, or a look with --look");
  if (further.length)
    throw new UsageError("--profile: a map is of one lens; with --look several profiles may be given");
  if (focal === undefined) throw new UsageError("--focal: say the lens's focal length, mm");
  if (!sensor) throw new UsageError("--sensor: say what the picture covers, WIDTHxHEIGHT in mm");
  const lens = profileNamed("--profile", name);
  if (lens.format !== "pale-halo-lens") throw new UsageError(`--profile ${name}: a filter has no distortion`);
  const beyond = Math.round((overscan / 100) * size.width);
  const bytes = await mapFile(lens, focal, { size, sensor, inverse }, beyond).catch((error: unknown) => {
    throw asUsage(`--profile ${name}`, error);
  });
  const around = beyond ? `, ${beyond} px beyond the picture` : "";
  return { bytes, of: `${lens.name} at ${focal} mm${around}`, told: { profile: lens.id, focalLength: focal, beyond } };
}

/** Of all that moves the picture in a look, as it is at a frame: what a render of it does. */
async function mapOfLook(path: string, options: Options): Promise<Made> {
  const { profile = [], focal, size, sensor, frame, inverse, overscan } = options;
  if (focal !== undefined) throw new UsageError("--focal: a look has its own focal length");
  if (overscan) throw new UsageError("--overscan: maps of a look are of the picture alone");
  const read = readLook(path);
  const look = sensor ? { ...read, camera: { ...read.camera, sensor } } : read;
  const cabinet = cabinetOf([...demoProfiles(), ...profile.map(readProfile)]);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${path}: ${missing.join("; ")}; give its file with --profile`);
  const { engine, close } = startEngine(THREADS);
  const places = placesThrough(look, cabinet, { ...size, frame }, madeBy(engine, cabinet, { frame }));
  close();
  if (!places) throw new UsageError(`--look ${path}: nothing in it moves the picture at frame ${frame}`);
  const bytes = await fileOfMap(placesMap(places, inverse), size);
  return { bytes, of: `what moves the picture in ${look.name || basename(path)}, frame ${frame}`, told: { frame } };
}

async function run(options: Options): Promise<void> {
  const { look, profile = [], out, inverse, json, dryRun } = options;
  if (formOfName(out) !== "map") throw new UsageError(`--out ${out}: ends in .exr`);
  const read = [...(look ? [look] : []), ...profile].map((path) => ({ path, what: "what is read" }));
  refuseOverwriting("--out", [out], read);
  prepareOutput("--out", dirname(out), dryRun);
  const { bytes, of, told } = await (look === undefined ? mapOfLens(options) : mapOfLook(look, options));
  await putFile(out, bytes, { dryRun });
  const does = inverse ? "takes the distortion off" : "puts the distortion on";
  console.log(json ? JSON.stringify({ out, ...told, inverse: Boolean(inverse) }) : `${out}: ${does}, ${of}`);
}

export const stmapCommand = (): Command =>
  new Command("stmap")
    .description(
      "Writes a lens’s distortion, or all that moves a look’s picture, as a map: from where each pixel is fetched, across in red, up in green",
    )
    .option("--profile <file or id>", "the lens; with --look, glass that it names, may be repeated", collect)
    .option("--focal <mm>", "focal length of the lens", focalLengthOption)
    .option("--look <file>", "a look, JSON, in place of a lens: the map does what a render of it does")
    .option("--frame <n>", "the frame at which what is timed is taken", numberOption(-MAX_FRAME, MAX_FRAME, true), 0)
    .requiredOption("--size <size>", "of the picture, WIDTHxHEIGHT in px", sizeOption)
    .option("--sensor <size>", "WIDTHxHEIGHT in mm; the look’s own if left out", sensorOption)
    .requiredOption("--out <file>", "an .exr file, 32-bit floats")
    .option("--inverse", "the map takes the distortion off a picture, and does not put it on")
    .option("--overscan <%>", "of the width, held beyond the picture on each side", numberOption(0, MAX_OVERSCAN), 0)
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
