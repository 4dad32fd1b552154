import { extname } from "node:path";
import { Command } from "commander";
import { TABLE_SIZES, type TableError, type TableSize } from "../../core/export/tonal-table";
import { decodeImage } from "../../core/image/decode";
import { missingGlass } from "../../core/look/glass";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { startEngine } from "../../server/engine/engine";
import { TABLE_FORMATS, type TableFormat } from "../../contract/export";
import { exportTable, tableProblem } from "../../server/readers/table";
import { loadFrame, openSource } from "../../server/footage/source";
import { readLook, readProfile } from "../files";
import { MAX_FRAME } from "../../core/frame/ranges";
import { encodingNamed } from "../encodings";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { choiceOption, collect, numberOption, UsageError } from "../options";

interface Options extends Doing {
  look: string;
  out: string;
  profile?: string[];
  size: string;
  inEncoding: string;
  view: boolean;
  in?: string;
  footageEncoding: string;
  frame?: number;
}

const THREADS = 2;

const told = ({ mean, largest, withinThree }: TableError) =>
  `mean ${mean.toFixed(2)}, ${(100 * withinThree).toFixed(2)} % within 3, largest ${largest.toFixed(1)} of 1023`;

async function run(options: Options): Promise<void> {
  const look = readLook(options.look);
  const format = extname(options.out).slice(1).toLowerCase() as TableFormat;
  if (!TABLE_FORMATS.includes(format))
    throw new UsageError(`--out ${options.out}: ends in .${TABLE_FORMATS.join(" or .")}`);
  const cabinet = cabinetOf([...demoProfiles(), ...(options.profile ?? []).map(readProfile)]);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${options.look}: ${missing.join("; ")}; give its file with --profile`);
  const input = encodingNamed("--in-encoding", options.inEncoding);
  const problem = tableProblem({ format, input });
  if (problem) throw new UsageError(`--in-encoding ${input.name}: ${problem}`);
  const frame = options.frame ?? 1;
  const order = { format, size: Number(options.size) as TableSize, input, throughView: options.view, frame };
  const light = options.in
    ? decodeImage(
        await loadFrame(openSource(options.in), frame),
        encodingNamed("--footage-encoding", options.footageEncoding),
      ).frame
    : null;
  const { engine, close } = startEngine(THREADS);
  const made = exportTable(engine, look, cabinet, order, light);
  close();
  await putFile(options.out, Buffer.from(made.text), options);
  if (options.json) console.log(JSON.stringify({ ...made, text: undefined, out: options.out }));
  else {
    console.log(
      `${options.out}: ${order.size} entries a side, from ${input.name}${options.view ? " through the view" : ""}`,
    );
    console.log(`over a lattice twice as fine: ${told(made.lattice)}`);
    if (made.frame) console.log(`over the frame: ${told(made.frame)}`);
    for (const { label, why } of made.leftOut) console.log(`left out: ${label}; ${why}`);
  }
}

export const lutCommand = (): Command =>
  new Command("lut")
    .description(
      "Writes the part of a look that depends on no neighbour as a table, says what it leaves out, and measures it",
    )
    .requiredOption("--look <file>", "the look, JSON")
    .requiredOption("--out <file>", "a .cube or .clf file")
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .addOption(choiceOption("--size <entries>", "entries a side", TABLE_SIZES.map(String)).default("33"))
    .option("--in-encoding <name>", "what code values go in by", "acescct")
    .option("--no-view", "without the look’s view: what comes out is encoded as what goes in")
    .option("--in <pattern>", "footage whose frame the table is measured over")
    .option("--footage-encoding <name>", "how that footage is encoded", "linear-ap1")
    .option("--frame <n>", "the frame at which what is timed is taken", numberOption(-MAX_FRAME, MAX_FRAME, true))
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
