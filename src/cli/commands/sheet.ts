import { basename, dirname, extname } from "node:path";
import { Command } from "commander";
import { definitionOf } from "../../core/elements/registry";
import { firstOf, type Ranges } from "../../core/frame/ranges";
import { overscanNeeded } from "../../core/judge/overscan";
import { madeBy } from "../../core/judge/places";
import { missingGlass } from "../../core/look/glass";
import type { Look } from "../../core/look/look";
import { type Cabinet, cabinetOf } from "../../core/profile/profiles";
import { glassSheet } from "../../core/sheet/contents";
import { sheetHtml } from "../../core/sheet/html";
import { HEADINGS, rowsOf } from "../../core/verify/table";
import { verify } from "../../core/verify/verify";
import { demoProfiles } from "../../demo/glass/profiles";
import { chartRunner } from "../../server/engine/charts";
import { startEngine } from "../../server/engine/engine";
import { guessEncoding } from "../../server/footage/guess-encoding";
import { loadFrame, openSource } from "../../server/footage/source";
import { version } from "../../../package.json";
import { type Doing, DRY_RUN, putFile, tellDone } from "../doing";
import { encodingNamed } from "../encodings";
import { readLook, readProfile } from "../files";
import { collect, frameListOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

interface Options extends Doing {
  look: string;
  in: string;
  out: string;
  frames?: Ranges;
  profile?: string[];
  inEncoding?: string;
  verify?: boolean;
}

const THREADS = 2;
/** Charts are measured at this size, px: as `halo verify` does where none is said. */
const CHART = { width: 1280, height: 720 };

/** Charts through a look's glass beside its profiles, as a table. */
function measuredThrough(look: Look, cabinet: Cabinet): string[][] {
  const { through, close } = chartRunner(cabinet, CHART);
  const { quantities, leftOut } = verify(look, cabinet, CHART, through);
  close();
  const rows = [...rowsOf(quantities), ...leftOut.map(({ kind, why }) => [kind, `not measured. ${why}`])];
  return [HEADINGS, ...rows.map(([kind, ...cells]) => [definitionOf(kind!).label, ...cells])];
}

async function run(options: Options): Promise<void> {
  const { look: path, in: input, out, profile = [], inEncoding, dryRun } = options;
  if (![".html", ".htm"].includes(extname(out).toLowerCase())) throw new UsageError(`--out ${out}: ends in .html`);
  const look = readLook(path);
  const cabinet = cabinetOf([...demoProfiles(), ...profile.map(readProfile)]);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${path}: ${missing.join("; ")}; give its file with --profile`);
  const source = openSource(input);
  if (!source.frames.length) throw new UsageError(`--in ${input}: there is no such footage`);
  refuseOverwriting(
    "--out",
    [out],
    [path, input, ...profile].map((file) => ({ path: file, what: "what is read" })),
  );
  prepareOutput("--out", dirname(out), dryRun);
  const frames = options.frames ?? source.frames;
  const sample = await loadFrame(source, firstOf(frames));
  const { width, height, framesPerSecond, timeCode } = sample.info;
  const guessed = guessEncoding(sample);
  const encoding = inEncoding
    ? encodingNamed("--in-encoding", inEncoding).name
    : `${guessed.encoding} (${guessed.reason})`;
  const at = { width, height, frame: firstOf(frames) };
  const { engine, close } = startEngine(THREADS);
  const overscan = overscanNeeded(look, cabinet, at, madeBy(engine, cabinet, at));
  close();
  const shot = {
    ...{ name: basename(path, extname(path)), footage: basename(input), width, height, frames, encoding },
    ...{ frameRate: framesPerSecond ?? 24, timeCode: timeCode ?? null, hasDepth: sample.z !== undefined },
  };
  const measured = options.verify ? measuredThrough(look, cabinet) : null;
  const html = sheetHtml(glassSheet(look, cabinet, shot, overscan, measured), `Pale Halo ${version}.`);
  await putFile(out, Buffer.from(html), { dryRun });
  tellDone(options, { out }, out);
}

export const sheetCommand = (): Command =>
  new Command("sheet")
    .description("The glass sheet: what was done to a shot, with its figures, as a page that prints")
    .requiredOption("--look <file>", "the look, JSON")
    .requiredOption("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .requiredOption("--out <file>", "the page, .html")
    .option("--frames <list>", "the frames it is of, as 1-24,30; all if left out", frameListOption)
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--in-encoding <name>", "how the footage is encoded: a name, or a .json, .cube or .clf file")
    .option("--verify", "charts are sent through the look, and what is measured stands beside the profiles")
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
