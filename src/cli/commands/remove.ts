import { Command } from "commander";
import { DATA, type Doing, DRY_RUN, JSON_OUT, tellDone } from "../doing";
import { UsageError } from "../options";

const KINDS = ["shot", "footage", "version", "render", "table"];

async function remove(
  kind: string,
  id: string,
  { data, yes, ...doing }: Doing & { data?: string; yes?: boolean },
): Promise<void> {
  if (!KINDS.includes(kind))
    throw new UsageError(`${kind}: there is no such thing to remove; there are ${KINDS.join(", ")}`);
  // The database is loaded only where it is needed: every other command starts without it.
  const { withData } = await import("../data");
  const found = (await import("../removal")).REMOVALS[kind]!;
  await withData(data, "halo remove", async (open) => {
    const says = await found.says(open, id);
    if (!yes && !doing.dryRun) throw new UsageError(`${kind} ${id}: ${says}. Say --yes to remove it`);
    if (!doing.dryRun) await found.remove(open, id);
    tellDone(doing, { kind, id, says }, `${kind} ${id} is removed: ${says}`);
  });
}

export const removeCommand = (): Command =>
  new Command("remove")
    .description("Removes a shot, footage that no shot uses, a version (SHOT/ID), a render with its files, or a table")
    .argument("<what>", KINDS.join(", "))
    .argument("<id>")
    .option(...DATA)
    .option("--yes", "do it; without, what goes with it is said and nothing is done")
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(remove);
