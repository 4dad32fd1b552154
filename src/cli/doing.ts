import { Command } from "commander";
import { writeWhole } from "../server/storage/files";

/** How a command does its work. */
export interface Doing {
  /** Only says what it would do. */
  dryRun?: boolean;
  /** Results as JSON. */
  json?: boolean;
}

/** The options of it. */
export const DRY_RUN = ["--dry-run", "say what would be done, and do nothing"] as const;
export const JSON_OUT = ["--json", "JSON"] as const;

export const DATA = ["--data <folder>", "the data folder; HALO_DATA or .data if left out"] as const;

/** A command that works on a data folder. */
export const dataCommand = (name: string, description: string): Command =>
  new Command(name)
    .description(description)
    .option(...DATA)
    .option(...JSON_OUT);

/** One that changes what is in it. */
export const changingCommand = (name: string, description: string): Command =>
  dataCommand(name, description).option(...DRY_RUN);

/** Writes a file whole; a dry run says that it would. */
export async function putFile(path: string, bytes: Uint8Array, { dryRun }: Doing): Promise<void> {
  if (!dryRun) return writeWhole(path, bytes);
  console.error(`${path}: ${bytes.length} bytes would be written; nothing is`);
}

/** Tells what was done, or would be: a line, or as JSON. */
export function tellDone({ json, dryRun }: Doing, result: object, line: string): void {
  if (json) console.log(JSON.stringify({ ...result, ...(dryRun ? { dryRun } : {}) }));
  else console.log(dryRun ? `${line} (not done)` : line);
}
