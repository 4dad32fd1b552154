import { Command } from "commander";
import { missingGlass } from "../../core/look/glass";
import { cabinetOf } from "../../core/profile/profiles";
import { isMet } from "../../core/verify/quantity";
import { tableOf } from "../../core/verify/table";
import { verify } from "../../core/verify/verify";
import { demoProfiles } from "../../demo/glass/profiles";
import { chartRunner } from "../../server/engine/charts";
import { readLook, readProfile } from "../files";
import { collect, sensorOption, sizeOption, UsageError } from "../options";

interface Options {
  look: string;
  profile?: string[];
  size: { width: number; height: number };
  sensor?: { width: number; height: number };
  json?: boolean;
}

/** Charts need room around what is measured, and are computed in memory. */
const SMALLEST = { width: 320, height: 240 };
const MAX_PIXELS = 4096 * 2304;

function run({ look: path, profile, size, sensor, json }: Options): void {
  const read = readLook(path);
  const look = sensor ? { ...read, camera: { ...read.camera, sensor } } : read;
  const cabinet = cabinetOf([...demoProfiles(), ...(profile ?? []).map(readProfile)]);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${path}: ${missing.join("; ")}; give its file with --profile`);
  if (size.width < SMALLEST.width || size.height < SMALLEST.height || size.width * size.height > MAX_PIXELS)
    throw new UsageError(
      `--size ${size.width}x${size.height}: charts are measured from ${SMALLEST.width}x${SMALLEST.height} to 4096x2304`,
    );
  const { through, close } = chartRunner(cabinet, size);
  const { quantities, leftOut } = verify(look, cabinet, size, through);
  close();
  if (json) console.log(JSON.stringify(quantities.map((quantity) => ({ ...quantity, met: isMet(quantity) }))));
  else {
    console.log(tableOf(quantities));
    for (const { kind, why } of leftOut) console.log(`${kind}: not measured. ${why}`);
  }
  const missed = quantities.filter((quantity) => !isMet(quantity));
  if (missed.length) throw new Error(`${missed.length} of ${quantities.length} quantities miss their bar`);
}

export const verifyCommand = (): Command =>
  new Command("verify")
    .description("Sends computed charts through a look’s glass and holds what is measured against its profiles")
    .requiredOption("--look <file>", "the look, JSON")
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--size <size>", "size of the charts, WIDTHxHEIGHT in pixels", sizeOption, { width: 1280, height: 720 })
    .option("--sensor <size>", "the sensor, WIDTHxHEIGHT in mm; the look’s if left out", sensorOption)
    .option("--json", "JSON")
    .action(run);
