import { extname } from "node:path";
import { Command } from "commander";
import { MAX_FRAME } from "../../core/frame/ranges";
import { steadyNow } from "../../server/waiting/clock";
import { DATA, type Doing, DRY_RUN, JSON_OUT, putFile, tellDone } from "../doing";
import { readLook } from "../files";
import { numberOption, UsageError } from "../options";

interface DataOption extends Doing {
  data?: string;
}

/** Time a still may take to be read and shown, ms. */
const WAITS_AT_MOST_MS = 120_000;

/** The stills in a data folder. The database is loaded only where it is needed. */
const shelf = async () => ({
  ...(await import("../data")),
  ...(await import("../../server/stills/keep")),
  ...(await import("../../server/looks/library")),
  ...(await import("../../server/stills/deliver")),
});

async function list({ data, json }: DataOption): Promise<void> {
  const { readingData, allStills } = await shelf();
  await readingData(data, "halo stills", async ({ db }) => {
    const stills = await allStills(db);
    if (json) return console.log(JSON.stringify(stills));
    for (const { id, shotId, frame, width, height, note } of stills)
      console.log(`${id}  ${shotId} frame ${frame}, ${width} × ${height}${note ? `: ${note}` : ""}`);
  });
}

interface KeepOptions extends DataOption {
  shot: string;
  frame: number;
  look?: string;
  note?: string;
}

async function keep({ shot, frame, look: file, note, data, ...doing }: KeepOptions): Promise<void> {
  const given = file === undefined ? null : readLook(file);
  const { withData, keepStill, currentLook } = await shelf();
  await withData(data, "halo stills keep", async ({ db }) => {
    const look = given ?? (await currentLook(db, shot)).look;
    const { id = null } = doing.dryRun ? {} : await keepStill(db, { shotId: shot, frame, look, note });
    tellDone(doing, { id, shot, frame }, `still ${id ?? ""} of ${shot}, frame ${frame}, is kept`);
  });
}

async function exportStill(id: string, { out, data, ...doing }: DataOption & { out: string }): Promise<void> {
  const format = extname(out).slice(1).toLowerCase();
  if (format !== "png" && format !== "jpg" && format !== "exr")
    throw new UsageError(`--out ${out}: ends in .png, .jpg (as it is seen) or .exr (its light)`);
  const { readingData, stillNamed, stillFile, stillPicture } = await shelf();
  await readingData(data, "halo stills export", async ({ db }) => {
    const still = await stillNamed(db, id);
    const until = steadyNow() + WAITS_AT_MOST_MS;
    const bytes = format === "exr" ? await stillFile(still) : await stillPicture(db, still, format, null, { until });
    await putFile(out, bytes, doing);
    tellDone(doing, { out }, out);
  });
}

async function remove(id: string, { data, ...doing }: DataOption): Promise<void> {
  const { withData, stillNamed, removeStillNamed } = await shelf();
  await withData(data, "halo stills remove", async ({ db }) => {
    await stillNamed(db, id);
    if (!doing.dryRun) await removeStillNamed(db, id);
    tellDone(doing, { id: Number(id) }, `still ${id} is removed`);
  });
}

export function stillsCommand(): Command {
  const command = new Command("stills").description(
    "Kept pictures of single frames in a data folder, with their looks",
  );
  command
    .command("list")
    .description("All stills, the newest first")
    .option(...DATA)
    .option("--json", "JSON")
    .action(list);
  command
    .command("keep")
    .description("Makes a still of a frame of a shot")
    .requiredOption("--shot <id>", "the shot")
    .requiredOption("--frame <n>", "the frame", numberOption(0, MAX_FRAME, true))
    .option("--look <file>", "the look, JSON; the one the shot wears if left out")
    .option("--note <text>", "a note")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(keep);
  command
    .command("export")
    .description("Writes a still as a picture (.png, .jpg), or its light (.exr)")
    .argument("<id>")
    .requiredOption("--out <file>", "the file")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(exportStill);
  command
    .command("remove")
    .description("Removes a still and its file")
    .argument("<id>")
    .option(...DATA)
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(remove);
  return command;
}
