import { Command } from "commander";
import { MAX_FRAME } from "../../core/frame/ranges";
import { overscanNeeded } from "../../core/judge/overscan";
import { madeBy } from "../../core/judge/places";
import { missingGlass } from "../../core/look/glass";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { startEngine } from "../../server/engine/engine";
import { readLook, readProfile } from "../files";
import { collect, numberOption, sizeOption, UsageError } from "../options";

interface Options {
  look: string;
  size: { width: number; height: number };
  profile?: string[];
  frame: number;
  json?: boolean;
}

const THREADS = 2;

function run({ look: path, size, profile, frame, json }: Options): void {
  const look = readLook(path);
  const cabinet = cabinetOf([...demoProfiles(), ...(profile ?? []).map(readProfile)]);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${path}: ${missing.join("; ")}; give its file with --profile`);
  const { engine, close } = startEngine(THREADS);
  const needed = overscanNeeded(look, cabinet, { ...size, frame }, madeBy(engine, cabinet, { frame }));
  close();
  const { isMore, ...sides } = needed;
  const share = (100 * Math.max(...Object.values(sides))) / size.width;
  if (json) return console.log(JSON.stringify({ ...sides, share: Number(share.toFixed(3)), isMore }));
  for (const [side, px] of Object.entries(sides)) console.log(`${side}: ${px} px`);
  console.log(`${isMore ? "more than " : ""}${share.toFixed(2)} % of the width`);
}

export const overscanCommand = (): Command =>
  new Command("overscan")
    .description("How much beyond the frame a look’s geometry fetches, so that nothing at its edges is made up")
    .requiredOption("--look <file>", "the look, JSON")
    .requiredOption("--size <size>", "of the picture, WIDTHxHEIGHT in px", sizeOption)
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--frame <n>", "the frame at which what is timed is taken", numberOption(-MAX_FRAME, MAX_FRAME, true), 0)
    .option("--json", "JSON")
    .action(run);
