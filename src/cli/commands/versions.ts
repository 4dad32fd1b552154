import { Command } from "commander";
import { differences, differenceText } from "../../core/look/differences";
import { DATA, type Doing, DRY_RUN, JSON_OUT, tellDone } from "../doing";
import { readLook } from "../files";

interface DataOption extends Doing {
  data?: string;
}

/** Versions in a data folder. The database is loaded only where it is needed. */
const history = async () => ({
  ...(await import("../data")),
  ...(await import("../../server/looks/versions")),
  ...(await import("../../server/looks/library")),
});

async function list(shot: string, { data, json }: DataOption): Promise<void> {
  const { readingData, versionsOfShot, versionLook, currentLook, glassOf } = await history();
  await readingData(data, "halo versions", async ({ db }) => {
    const versions = await versionsOfShot(db, shot);
    if (json) {
      const whole = [];
      for (const version of versions) whole.push({ ...version, body: await versionLook(db, shot, version.id) });
      return console.log(JSON.stringify(whole));
    }
    const cabinet = await glassOf(db);
    const names = {
      nameOf: (id: string) => cabinet.lenses.get(id)?.name ?? cabinet.filters.get(id)?.name ?? id,
      lensOf: (id: string) => cabinet.lenses.get(id) ?? null,
    };
    const { look: now } = await currentLook(db, shot);
    for (const { id, number, name, note } of versions) {
      const body = await versionLook(db, shot, id);
      console.log(`${number}. ${name} (${shot}/${id})${note ? `: ${note}` : ""}`);
      for (const one of differences(body, now, names)) console.log(`   since then ${differenceText(one)}`);
    }
  });
}

interface KeepOptions extends DataOption {
  look?: string;
  name?: string;
  note?: string;
}

async function keep(shot: string, { look, name, note, data, ...doing }: KeepOptions): Promise<void> {
  const given = look === undefined ? undefined : readLook(look);
  const { withData, keepVersionOf, currentLook } = await history();
  await withData(data, "halo versions keep", async ({ db }) => {
    if (doing.dryRun) {
      const { look: now } = await currentLook(db, shot);
      return tellDone(doing, { shot, name: name ?? null }, `the look “${(given ?? now).name}” is kept of ${shot}`);
    }
    const kept = await keepVersionOf(db, shot, { look: given, name, note });
    const line = `kept as version ${kept.number} of ${shot}, ${kept.name} (${shot}/${kept.id})`;
    tellDone(doing, { shot, id: kept.id, number: kept.number, name: kept.name }, line);
  });
}

export function versionsCommand(): Command {
  const command = new Command("versions").description("Kept looks of a shot, and what has changed since");
  command
    .command("list")
    .description("A shot's versions, the newest first, with their notes and what differs from now")
    .argument("<shot>")
    .option(...DATA)
    .option("--json", "JSON")
    .action(list);
  command
    .command("keep")
    .description("Keeps the look a shot wears as its next version, or another")
    .argument("<shot>")
    .option("--look <file>", "the look, JSON; the one the shot wears if left out")
    .option("--name <name>", "its name")
    .option("--note <text>", "a note")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(keep);
  return command;
}
