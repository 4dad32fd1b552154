import { createReadStream, createWriteStream } from "node:fs";
import { readdir, stat } from "node:fs/promises";
import { basename, extname } from "node:path";
import { pipeline } from "node:stream/promises";
import { Command } from "commander";
import { discard, finish, temporaryFor, wholeFolder } from "../../server/storage/files";
import type { ImportedProduction } from "../../contract/productions";
import { changingCommand, dataCommand, type Doing, tellDone } from "../doing";
import { UsageError } from "../options";

interface DataOption extends Doing {
  data?: string;
}

/** Productions in a data folder. The database is loaded only where it is needed. */
const loaded = async () => ({
  ...(await import("../data")),
  ...(await import("../../server/productions/productions")),
  ...(await import("../../server/productions/pack")),
});

async function list({ data, json }: DataOption): Promise<void> {
  const { readingData, productions } = await loaded();
  await readingData(data, "halo production", async ({ db }) => {
    const all = await productions(db);
    if (json) return console.log(JSON.stringify(all));
    for (const { id, name, archived, shots, renders } of all)
      console.log(`${id}: ${name}, ${shots} shots, ${renders} renders${archived ? ", archived" : ""}`);
    if (!all.length) console.log("there is no production");
  });
}

async function make(name: string, { data, ...doing }: DataOption): Promise<void> {
  const { withData, makeProduction } = await loaded();
  await withData(data, "halo production", async ({ db }) => {
    const made = doing.dryRun ? { name } : await makeProduction(db, name);
    tellDone(doing, made, `${name} is begun${"id" in made ? ` as ${made.id}` : ""}`);
  });
}

async function change(
  id: string,
  { data, name, archive, takeUp, ...doing }: DataOption & { name?: string; archive?: boolean; takeUp?: boolean },
): Promise<void> {
  if (archive && takeUp) throw new UsageError("--archive, --take-up: say one of them");
  const archived = archive ? true : takeUp ? false : undefined;
  if (name === undefined && archived === undefined) throw new UsageError("say --name, --archive or --take-up");
  const { withData, changeNamed } = await loaded();
  await withData(data, "halo production", async ({ db }) => {
    const wanted = { ...(name === undefined ? {} : { name }), ...(archived === undefined ? {} : { archived }) };
    const now = await changeNamed(db, id, doing.dryRun ? {} : wanted);
    tellDone(
      doing,
      { ...now, ...wanted },
      `${id}: ${name ?? now.name}${(archived ?? now.archived) ? ", archived" : ""}`,
    );
  });
}

const isZip = (path: string) => extname(path).toLowerCase() === ".zip";

async function exportTo(id: string, { data, out, ...doing }: DataOption & { out: string }): Promise<void> {
  const standing = await readdir(out).catch(() => []);
  if (!isZip(out) && standing.length) throw new UsageError(`--out ${out}: is there, and not empty; name a new folder`);
  const { readingData, productions, packProduction, exportZip } = await loaded();
  await readingData(data, "halo production", async ({ db }) => {
    const found = (await productions(db)).find((one) => one.id === id);
    if (!found) throw new UsageError(`${id}: there is no such production; halo production list names them`);
    let lacks: string[] = [];
    if (!doing.dryRun && isZip(out)) {
      const zip = await exportZip(db, id);
      const temporary = temporaryFor(out);
      try {
        await pipeline(zip.handle.createReadStream(), createWriteStream(temporary));
        await finish(temporary, out, zip.bytes);
      } finally {
        await discard(temporary);
      }
      ({ lacks } = zip);
    } else if (!doing.dryRun)
      await wholeFolder(out, async (building) => {
        ({ lacks } = await packProduction(db, id, building));
      });
    for (const one of lacks) console.error(`not in it: ${one}`);
    tellDone(doing, { id, out, lacks }, `${found.name} is in ${out}; its footage stays where it is`);
  });
}

function tellImported(doing: Doing, { production, shots, notes }: ImportedProduction): void {
  for (const note of notes) console.error(note);
  for (const { id, name, footage } of shots)
    console.error(`${id} ${name}: footage ${footage ?? "is not here; it is found when its files are taken in"}`);
  tellDone(doing, { production, shots, notes }, `${production.name} is ${production.id}, with ${shots.length} shots`);
}

async function importFrom(path: string, { data, ...doing }: DataOption): Promise<void> {
  const found = await stat(path).catch(() => null);
  if (!found) throw new UsageError(`${path}: there is no such folder or zip`);
  const { withData, importFolder, importZip } = await loaded();
  await withData(data, "halo production", async ({ db }) => {
    if (doing.dryRun) return tellDone(doing, { in: path }, `${path} would be brought in`);
    tellImported(
      doing,
      found.isDirectory()
        ? await importFolder(db, path)
        : await importZip(db, basename(path), createReadStream(path) as AsyncIterable<Uint8Array>),
    );
  });
}

async function move(id: string, shots: string[], { data, ...doing }: DataOption): Promise<void> {
  const { withData } = await loaded();
  const { changeShots } = await import("../../server/shots/shots");
  await withData(data, "halo production", async ({ db }) => {
    if (!doing.dryRun) await changeShots(db, shots, { productionId: id });
    tellDone(doing, { id, shots }, `${shots.join(", ")} ${shots.length === 1 ? "is" : "are"} in ${id}`);
  });
}

async function remove(id: string, { data, yes, ...doing }: DataOption & { yes?: boolean }): Promise<void> {
  const { withData, usesOfProduction, removeNamed } = await loaded();
  await withData(data, "halo production", async ({ db }) => {
    const { goes, stays } = await usesOfProduction(db, id);
    const says = `${goes.join(", ") || "nothing"} goes with it; ${stays.join(", ")} stay`;
    if (!yes && !doing.dryRun) throw new UsageError(`${id}: ${says}. Say --yes to remove it`);
    if (!doing.dryRun) await removeNamed(db, id);
    tellDone(doing, { id, goes, stays }, `${id} is removed: ${says}`);
  });
}

export const productionCommand = (): Command =>
  new Command("production")
    .description("Productions in a data folder: begun, named, put away, handed over, brought in, removed")
    .addCommand(dataCommand("list", "Productions, with how many shots and renders each has").action(list))
    .addCommand(changingCommand("make", "Begins one").argument("<name>").action(make))
    .addCommand(
      changingCommand("change", "Names one anew, puts it away or takes it up again")
        .argument("<id>")
        .option("--name <name>", "what it is called")
        .option("--archive", "its shots are not listed any more")
        .option("--take-up", "they are again")
        .action(change),
    )
    .addCommand(
      changingCommand("move", "Puts shots into another one").argument("<id>").argument("<shots...>").action(move),
    )
    .addCommand(
      changingCommand("export", "Looks, versions, stills, glass and tables as one folder or zip; footage by hash")
        .argument("<id>")
        .requiredOption("--out <path>", "a new folder, or a name that ends in .zip")
        .action(exportTo),
    )
    .addCommand(changingCommand("import", "Brings one in from a folder or zip").argument("<path>").action(importFrom))
    .addCommand(
      changingCommand("remove", "Removes one with its shots; what was rendered stays")
        .argument("<id>")
        .option("--yes", "do it; without, what goes with it is said and nothing is done")
        .action(remove),
    );
