import { basename } from "node:path";
import { Command } from "commander";
import { compile } from "../../core/compile/compile";
import { firstOf, MAX_FRAME, lastOf } from "../../core/frame/ranges";
import { decodeImage } from "../../core/image/decode";
import { allCautions } from "../../core/judge/cautions";
import { judge, JUDGED_BITS } from "../../core/judge/judge";
import { overscanMissing } from "../../core/judge/overscan";
import { madeBy } from "../../core/judge/places";
import { NO_OVERSCAN } from "../../core/image/overscan";
import { lookAt } from "../../core/look/at-frame";
import { missingGlass, platesIn } from "../../core/look/glass";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { readTable } from "../../server/encodings/own-encoding";
import { startEngine } from "../../server/engine/engine";
import { guessedEncoding, guessEncoding } from "../../server/footage/guess-encoding";
import { loadFrame, openSource } from "../../server/footage/source";
import { encodingNamed } from "../encodings";
import { readLook, readProfile, readText } from "../files";
import { collect, numberOption, UsageError } from "../options";

interface Options {
  look: string;
  in: string;
  frame?: number;
  inEncoding?: string;
  profile?: string[];
  table?: string[];
  json?: boolean;
}

const THREADS = 2;

async function run({ look: path, in: name, frame: asked, inEncoding, profile, table, json }: Options): Promise<void> {
  const look = readLook(path);
  const tables = (table ?? []).map((file) => [basename(file), readTable(file, readText(file))] as const);
  const cabinet = cabinetOf([...demoProfiles(), ...(profile ?? []).map(readProfile)], tables);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${path}: ${missing.join("; ")}; give its file with --profile`);
  if (platesIn(look).length) throw new UsageError(`${path}: a look that takes other footage is judged on the Bench`);
  const source = openSource(name);
  if (!source.frames.length) throw new UsageError(`--in ${name}: there is no such footage`);
  const frame = asked ?? firstOf(source.frames);
  const image = await loadFrame(source, frame);
  const encoding = inEncoding ? encodingNamed("--in-encoding", inEncoding) : guessedEncoding(guessEncoding(image));
  const { frame: light, cleaned } = decodeImage(image, encoding);
  const { width, height } = light;
  const shot = { first: firstOf(source.frames), last: lastOf(source.frames) };
  const request = { width, height, frame, shot, frameRate: image.info.framesPerSecond };
  const { engine, close } = startEngine(THREADS);
  const at = lookAt(look, cabinet, request);
  const picture = await judge(look, at, { width, height, cleaned }, async (of, output) => {
    const plan = compile(of, cabinet, { ...request, sourceKey: name }, output);
    if (plan.extras.length) throw new UsageError(`${path}: a look that takes other frames is judged on the Bench`);
    return engine.run(plan, () => light.data).slice();
  });
  const held = image.overscan ?? NO_OVERSCAN;
  const overscan = overscanMissing(look, cabinet, request, held, madeBy(engine, cabinet, request));
  close();
  const judged = { ...picture, overscan };
  const cautions = allCautions(look, at, judged);
  if (json) return console.log(JSON.stringify({ ...judged, bits: JUDGED_BITS, cautions }));
  for (const { text } of cautions) console.log(text);
  if (!cautions.length) console.log("No cautions");
}

export const judgeCommand = (): Command =>
  new Command("judge")
    .description(
      "What is to be said of the picture a look makes of a frame: clipping, banding, visible edges, and more",
    )
    .requiredOption("--look <file>", "the look, JSON")
    .requiredOption("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .option("--frame <n>", "the frame; the first if left out", numberOption(0, MAX_FRAME, true))
    .option("--in-encoding <name>", "how the footage is encoded: a name, or a .json, .cube or .clf file")
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--table <file>", "a .cube or .clf file that the look's view names; may be repeated", collect)
    .option("--json", "JSON")
    .action(run);
