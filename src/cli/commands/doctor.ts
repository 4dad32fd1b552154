import { Command } from "commander";
import { DATA, type Doing, DRY_RUN, JSON_OUT } from "../doing";

interface Options extends Doing {
  data?: string;
  mend?: boolean;
  deep?: boolean;
}

async function doctor({ data, mend, deep, json, dryRun }: Options): Promise<void> {
  // The database is loaded only where it is needed: every other command starts without it.
  const { withData } = await import("../data");
  const { examine } = await import("../../server/doctor/doctor");
  await withData(data, "halo doctor", async ({ folder, db }) => {
    const found = await examine(folder, db, deep);
    if (mend && !dryRun) for (const fault of found) await fault.mend?.();
    const rows = found.map(({ what, mends }) => ({ what, mends, mended: Boolean(mend && !dryRun && mends) }));
    if (json) console.log(JSON.stringify({ data: folder, faults: rows }));
    else if (!rows.length) console.log(`${folder}: database and folders agree`);
    for (const { what, mends, mended } of json ? [] : rows)
      console.log(
        `${what}${mends ? (mended ? `: mended (${mends})` : `; --mend ${mends}`) : "; this is for you to mend"}`,
      );
    if (rows.some(({ mended }) => !mended)) process.exitCode = 1;
  });
}

export const doctorCommand = (): Command =>
  new Command("doctor")
    .description("Compares the database with the folders: what is in one and not in the other")
    .option(...DATA)
    .option("--mend", "mend what can be mended")
    .option("--deep", "read all content, and compare it with its hashes")
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(doctor);
