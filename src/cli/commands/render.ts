import { basename } from "node:path";
import { Command } from "commander";
import type { EncodingName } from "../../core/colour/encodings";
import { missingGlass, platesIn } from "../../core/look/glass";
import { DEFAULT_RATE } from "../../core/frame/context";
import { firstOf, lastOf } from "../../core/frame/ranges";
import { compactDate } from "../../contract/naming";
import { DEFAULT_SLATE, slateOfRender, slateProblem } from "../../core/slate/slate";
import { withLensData } from "../../core/look/edit";
import type { Look } from "../../core/look/look";
import { readLensData } from "../../core/when/lens-data";
import { recordedLenses } from "../../server/shots/lens-data";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { guessedEncoding, guessEncoding } from "../../server/footage/guess-encoding";
import { parsePattern, stemOf } from "../../server/footage/sequence";
import { loadFrame, openSource } from "../../server/footage/source";
import type { PlateFootage } from "../../server/render/job";
import { readTable } from "../../server/encodings/own-encoding";
import { readLook, readProfile, readText } from "../files";
import { type FrameOptions, withFrameOptions } from "../frames";
import { runFrames } from "../perform";
import { collect, numberOption, UsageError } from "../options";
import { renderJobs } from "./jobs";
import { renderRecipe } from "./recipe";

interface Options extends FrameOptions {
  look?: string;
  recipe?: string;
  jobs?: string;
  /** Jobs side by side. */
  atOnce: number;
  otherEngine?: boolean;
  profile?: string[];
  table?: string[];
  plate?: string[];
  lensData?: string;
  slate?: string;
  scale: number;
}

const MAX_SCALE = 4;
const MAX_AT_ONCE = 64;

/** Plates' patterns by their names, each given as NAME=PATTERN. */
const platePatterns = (given: string[]): Map<string, string> =>
  new Map(
    given.map((text): [string, string] => {
      const at = text.indexOf("=");
      if (at < 1)
        throw new UsageError(`--plate ${text}: write it as NAME=PATTERN, for example snow=plates/snow.%04d.exr`);
      return [text.slice(0, at), text.slice(at + 1)];
    }),
  );

/** Footage for a look's plates: each that the look names is given. */
async function openPlates(names: string[], given: string[]): Promise<Map<string, PlateFootage>> {
  const patterns = platePatterns(given);
  const plates = new Map<string, PlateFootage>();
  for (const name of new Set(names)) {
    const pattern = patterns.get(name);
    if (pattern === undefined)
      throw new UsageError(
        `--look: takes the footage “${name}”; say where its footage is with --plate ${name}=PATTERN`,
      );
    const source = openSource(pattern);
    if (!source.frames.length) throw new UsageError(`--plate ${name}=${pattern}: there is no such footage`);
    plates.set(name, {
      source,
      frames: source.frames,
      encoding: guessedEncoding(guessEncoding(await loadFrame(source, firstOf(source.frames)))),
    });
  }
  return plates;
}

/** Named in place of a file: what the footage's own headers say. */
const FROM_FOOTAGE = "footage";

/** The look with its lens set by a file of lens data, or by the footage's own headers; what did not match is said. */
async function withRecordedLens(look: Look, { lensData, in: name }: Options): Promise<Look> {
  if (lensData === undefined) return look;
  const source = openSource(name);
  if (!source.frames.length) throw new UsageError(`--in ${name}: there is no such footage`);
  const [first, last] = [firstOf(source.frames), lastOf(source.frames)];
  if (lensData === FROM_FOOTAGE) {
    const { rows } = await recordedLenses(source, source.frames, { until: Infinity });
    if (!rows.length) throw new UsageError("--lens-data footage: the footage’s headers say nothing of a lens");
    return withLensData(look, rows);
  }
  const { framesPerSecond = DEFAULT_RATE, timeCode = null } = (await loadFrame(source, first)).info;
  try {
    const { rows, told } = readLensData(readText(lensData), { first, last, frameRate: framesPerSecond, timeCode });
    for (const line of told) console.error(`${lensData}: ${line}`);
    return withLensData(look, rows);
  } catch (error) {
    throw new UsageError(`--lens-data ${lensData}: ${(error as Error).message}`);
  }
}

/** What a recipe says by itself, and is not said beside it. */
const SAID_BY_RECIPE = [
  ["profile", "--profile"],
  ["table", "--table"],
  ["lensData", "--lens-data"],
  ["slate", "--slate"],
  ["frames", "--frames"],
  ["inEncoding", "--in-encoding"],
  ["outEncoding", "--out-encoding"],
  ["depth", "--depth"],
  ["compression", "--compression"],
  ["layers", "--layers"],
  ["overscan", "--overscan"],
] as const satisfies (readonly [keyof Options, string])[];

async function render({ look, recipe, jobs, ...rest }: Options): Promise<void> {
  if ([look, recipe, jobs].filter(Boolean).length !== 1)
    throw new UsageError("--look, --recipe or --jobs: say which look, which recipe, or which list of jobs");
  if (jobs) return renderJobs({ jobs, atOnce: rest.atOnce, dryRun: rest.dryRun });
  if (!rest.out) throw new UsageError("--out: say where frames go");
  if (look) return renderLook({ ...rest, look });
  const said = SAID_BY_RECIPE.find(([name]) => rest[name] !== undefined);
  if (said) throw new UsageError(`${said[1]}: the recipe says that by itself`);
  await renderRecipe({ ...rest, recipe: recipe!, plates: platePatterns(rest.plate ?? []) });
}

/** The slate with all in its place but what frames differ in: the shot is called as its files are. */
function slateGiven({ slate, in: input }: Options, { name }: Look): string | undefined {
  if (slate === undefined) return undefined;
  const problem = slateProblem(slate);
  if (problem) throw new UsageError(`--slate: ${problem}`);
  return slateOfRender(slate, { shot: stemOf(parsePattern(input)), version: name, date: compactDate() });
}

async function renderLook(options: Options & { look: string }): Promise<void> {
  const look = await withRecordedLens(readLook(options.look), options);
  const texts = (options.table ?? []).map((path) => ({
    id: basename(path),
    file: basename(path),
    text: readText(path),
  }));
  const tables = texts.map(({ id, text }, i) => [id, readTable(options.table![i]!, text)] as const);
  const cabinet = cabinetOf([...demoProfiles(), ...(options.profile ?? []).map(readProfile)], tables);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${options.look}: ${missing.join("; ")}; give its file with --profile`);
  if (look.view.kind === "lut" && !cabinet.tables.has(look.view.lut ?? ""))
    throw new UsageError(`${options.look}: view.lut: there is no table “${look.view.lut}”; give its file with --table`);
  const plates = await openPlates(platesIn(look), options.plate ?? []);
  const files = [
    { path: options.look, what: "the look" },
    ...(options.profile ?? []).map((path) => ({ path, what: "the profile" })),
    ...(options.table ?? []).map((path) => ({ path, what: "the table" })),
  ];
  await runFrames(options, {
    ...{ look, cabinet, plates, scale: options.scale, keepEncoding: false, files },
    ...{ overscan: 0, layers: "warp", slate: slateGiven(options, look) },
    texts: {
      tables: texts,
      plateEncodings: new Map([...plates].map(([name, { encoding }]) => [name, encoding.name as EncodingName])),
    },
  });
}

export const renderCommand = (): Command =>
  withFrameOptions(
    new Command("render").description(
      "Renders a look over footage. EXR holds working light, other formats the look's view, unless --out-encoding is given",
    ),
  )
    .option("--look <file>", "the look, JSON")
    .option("--recipe <file>", "in its place: a recipe that a render left, which makes the same bytes again")
    .option("--jobs <file>", "in its place: a file that lists renders, each with options of its own, JSON")
    .option("--at-once <n>", "of a list, how many side by side", numberOption(1, MAX_AT_ONCE, true), 1)
    .option("--other-engine", "a recipe of an engine of another version is made all the same")
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option(
      "--plate <name=pattern>",
      "footage the look takes beside the shot (a plate, a picture of dirt); may be repeated",
      collect,
    )
    .option("--table <file>", "a .cube or .clf file that the look's view names; may be repeated", collect)
    .option(
      "--lens-data <file>",
      "focal length, stop and focus by frame or time code: a CSV or JSON file, or “footage” for the frames' own headers",
    )
    .option(
      "--slate <text>",
      `a line burnt into pictures for a display, for example "${DEFAULT_SLATE}"; {date}, too, is filled in`,
    )
    .option("--scale <factor>", "size of the output over the input's", numberOption(0.01, MAX_SCALE), 1)
    .action(render);
