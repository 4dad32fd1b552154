import { existsSync, mkdirSync, readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { Command, Option } from "commander";
import { CARRIED_PARTS, carried, type CarriedPart, type CarryWay } from "../../core/look/carry";
import { differences, differenceText, type Names } from "../../core/look/differences";
import type { Look } from "../../core/look/look";
import { type Cabinet, cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { DATA, type Doing, DRY_RUN, JSON_OUT, putFile, tellDone } from "../doing";
import { readLook } from "../files";
import { UsageError } from "../options";

const named = (cabinet: Cabinet): Names => ({
  nameOf: (id) => cabinet.lenses.get(id)?.name ?? cabinet.filters.get(id)?.name ?? id,
  lensOf: (id) => cabinet.lenses.get(id) ?? null,
});

/** The files that are meant: those named, and the JSON files of folders that are. */
const filesIn = (paths: string[]): string[] =>
  paths.flatMap((path) =>
    statSync(path, { throwIfNoEntry: false })?.isDirectory()
      ? readdirSync(path)
          .filter((name) => name.endsWith(".json"))
          .sort()
          .map((name) => join(path, name))
      : [path],
  );

const fileNameOf = (name: string) =>
  `${
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "") || "look"
  }.json`;

interface DataOption extends Doing {
  data?: string;
}

/** The library in a data folder. The database is loaded only where it is needed. */
const library = async () => ({
  ...(await import("../data")),
  ...(await import("../../server/looks/library")),
});

async function list({ data, json }: DataOption & { json?: boolean }): Promise<void> {
  const { readingData, libraryOf } = await library();
  await readingData(data, "halo looks", async ({ db }) => {
    const { looks, worn } = await libraryOf(db);
    if (json) return console.log(JSON.stringify({ looks, worn }));
    for (const { id, name, purpose, revision } of looks)
      console.log(`${revision === null ? "ready" : "own  "} ${id}  ${name}: ${purpose ?? ""}`);
    for (const { shotId, name } of worn) console.log(`shot  ${shotId}  ${name}`);
  });
}

/** A look by its id in the library, or as a shot wears it. */
async function lookNamed(
  db: Parameters<Awaited<ReturnType<typeof library>>["libraryOf"]>[0],
  name: string,
): Promise<Look> {
  const { libraryOf, libraryLook, currentLook } = await library();
  const { looks, worn } = await libraryOf(db);
  if (looks.some(({ id }) => id === name)) return (await libraryLook(db, name)).look;
  if (worn.some(({ shotId }) => shotId === name)) return (await currentLook(db, name)).look;
  throw new UsageError(`${name}: there is no such look; see “halo looks list”`);
}

async function importFiles(paths: string[], { data, ...doing }: DataOption): Promise<void> {
  const looks = filesIn(paths).map((path) => ({ path, look: readLook(path) }));
  if (!looks.length) throw new UsageError(`${paths.join(", ")}: there is no .json file`);
  const { withData, keepLook } = await library();
  await withData(data, "halo looks import", async ({ db }) => {
    for (const { path, look } of looks) {
      const id = doing.dryRun ? null : (await keepLook(db, look)).id;
      tellDone(doing, { path, id, name: look.name }, `${path}: kept${id ? ` as ${id}` : ""}, ${look.name}`);
    }
  });
}

/** A name in a folder that no other look has: looks of equal names are not written over one another. */
function freeName(path: string, bytes: Buffer): string {
  const isFree = (name: string) => !existsSync(name) || readFileSync(name).equals(bytes);
  for (let number = 1; ; number++) {
    const name = number === 1 ? path : path.replace(/\.json$/, ` ${number}.json`);
    if (isFree(name)) return name;
  }
}

async function exportLook(name: string, { data, out, ...doing }: DataOption & { out: string }): Promise<void> {
  const { readingData } = await library();
  await readingData(data, "halo looks export", async ({ db }) => {
    const look = await lookNamed(db, name);
    const isFolder = !out.endsWith(".json");
    if (isFolder && !doing.dryRun) mkdirSync(out, { recursive: true });
    const bytes = Buffer.from(`${JSON.stringify(look, null, 2)}\n`);
    const path = isFolder ? freeName(join(out, fileNameOf(look.name)), bytes) : out;
    await putFile(path, bytes, doing);
    tellDone(doing, { out: path }, path);
  });
}

async function remove(id: string, { data, ...doing }: DataOption): Promise<void> {
  const { withData, libraryLook, removeLook } = await library();
  await withData(data, "halo looks remove", async ({ db }) => {
    await libraryLook(db, id);
    if (!doing.dryRun) await removeLook(db, id);
    tellDone(doing, { id }, `${id} is removed from the library; shots that wear it keep it`);
  });
}

interface ApplyOptions extends DataOption {
  look?: string;
  from?: string;
  shots: string;
  part: string;
  beside?: boolean;
}

async function apply({ look: file, from, shots, part, beside, dryRun, json, data }: ApplyOptions): Promise<void> {
  if ((file === undefined) === (from === undefined))
    throw new UsageError("--look FILE or --from ID: say which look is to be put on, by one of them");
  const given = file === undefined ? null : readLook(file);
  const wanted = shots.split(",").map((id) => id.trim());
  const what: CarriedPart = (CARRIED_PARTS as readonly string[]).includes(part)
    ? (part as CarriedPart)
    : part.split(",").map((id) => id.trim());
  const way: CarryWay = beside ? "beside" : "instead";
  const { withData, libraryOf, currentLook, glassOf, putLooks } = await library();
  await withData(data, "halo looks apply", async ({ db }) => {
    const look = given ?? (await lookNamed(db, from!));
    const missing =
      typeof what === "string" ? undefined : what.find((id) => !look.elements.some((one) => one.id === id));
    if (missing !== undefined)
      throw new UsageError(
        `--part ${part}: the look has no element “${missing}”; it has ${look.elements.map(({ id }) => id).join(", ")}`,
      );
    const { worn } = await libraryOf(db);
    const unknown = wanted.find((id) => id !== "all" && !worn.some(({ shotId }) => shotId === id));
    if (unknown !== undefined)
      throw new UsageError(
        `--shots ${shots}: there is no shot “${unknown}”; there are ${worn.map((one) => one.shotId).join(", ")}`,
      );
    const onto = [];
    for (const { shotId } of worn)
      if (wanted.includes("all") || wanted.includes(shotId)) onto.push(await currentLook(db, shotId));
    const after = onto.map((entry) => ({ ...entry, look: carried(look, entry.look, what, way) }));
    if (!dryRun) await putLooks(db, after);
    const names = named(await glassOf(db));
    const told = onto.map(({ shotId, look: before }, i) => ({
      shot: shotId,
      differences: differences(before, after[i]!.look, names),
    }));
    if (json) return console.log(JSON.stringify(told));
    for (const { shot, differences: all } of told) {
      console.log(`${shot}: ${all.length} ${all.length === 1 ? "change" : "changes"}${dryRun ? " (not made)" : ""}`);
      for (const one of all) console.log(`  ${differenceText(one)}`);
    }
  });
}

export function looksCommand(): Command {
  const command = new Command("looks").description("The library of looks in a data folder, and what shots wear");
  command
    .command("list")
    .description("Ready looks, one's own, and those that shots wear")
    .option(...DATA)
    .option("--json", "JSON")
    .action(list);
  command
    .command("import")
    .description("Keeps looks: JSON files, or folders of them")
    .argument("<files...>")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(importFiles);
  command
    .command("export")
    .description("Writes a look of the library, or the one that a shot wears, as JSON")
    .argument("<id>", "of the look, or of the shot")
    .requiredOption("--out <file>", "a .json file, or a folder")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(exportLook);
  command
    .command("remove")
    .description("Takes a look of one's own out of the library")
    .argument("<id>")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(remove);
  command
    .command("apply")
    .description(
      "Puts a look, or a part of it, on shots: all of them or none; camera, view and lens data stay the shot's",
    )
    .option("--look <file>", "the look, JSON")
    .option("--from <id>", "the look, by its id in the library, or by the shot that wears it")
    .requiredOption("--shots <ids>", "shots with commas between, or “all”")
    .addOption(
      new Option("--part <what>", `${CARRIED_PARTS.join(", ")}, or ids of elements with commas between`).default("all"),
    )
    .option("--beside", "beside what is there, not in place of it")
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .option(...DATA)
    .action(apply);
  return command;
}

export const differencesCommand = (): Command =>
  new Command("differences")
    .description("In what one look differs from another, element by element, with values before and after")
    .argument("<before>", "a look, JSON")
    .argument("<after>", "a look, JSON")
    .option("--json", "JSON")
    .action((before: string, after: string, { json }: { json?: boolean }) => {
      const all = differences(readLook(before), readLook(after), named(cabinetOf(demoProfiles())));
      if (json) console.log(JSON.stringify(all));
      else for (const one of all) console.log(differenceText(one));
    });
