import { basename } from "node:path";
import { Command } from "commander";
import { missingGlass } from "../../core/look/glass";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { readTable } from "../../server/colour/made";
import { readLook, readProfile, readText } from "../files";
import { type FrameOptions, runFrames, withFrameOptions } from "../frames";
import { collect, numberOption, UsageError } from "../options";

interface Options extends FrameOptions {
  look: string;
  profile?: string[];
  table?: string[];
  scale: number;
}

const LARGEST_SCALE = 4;

async function render(options: Options): Promise<void> {
  const look = readLook(options.look);
  const tables = (options.table ?? []).map((path) => [basename(path), readTable(path, readText(path))] as const);
  const cabinet = cabinetOf([...demoProfiles(), ...(options.profile ?? []).map(readProfile)], tables);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${options.look}: ${missing.join("; ")}; give its file with --profile`);
  if (look.view.kind === "lut" && !cabinet.tables.has(look.view.lut ?? "")) throw new UsageError(`${options.look}: view.lut: there is no table “${look.view.lut}”; give its file with --table`);
  await runFrames(options, { look, cabinet, scale: options.scale, keepEncoding: false });
}

export const renderCommand = (): Command =>
  withFrameOptions(new Command("render").description("Renders a look over footage. EXR holds working light, other formats the look's view, unless --out-encoding is given"))
    .requiredOption("--look <file>", "the look, JSON")
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--table <file>", "a .cube or .clf file that the look's view names; may be repeated", collect)
    .option("--scale <factor>", "size of the output over the input's", numberOption(0.01, LARGEST_SCALE), 1)
    .action(render);
