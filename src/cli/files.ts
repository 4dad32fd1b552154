import { readFileSync, statSync } from "node:fs";
import { findNodeAtLocation, parseTree } from "jsonc-parser";
import type { z } from "zod";
import { ownEncodingSchema } from "../core/colour/own-encoding";
import { lookSchema, type Look } from "../core/look/look";
import { problemsOf, problemText } from "../core/problems";
import { filterSchema, lensSchema, type Profile } from "../core/profile/profiles";
import { jobsSchema } from "./jobs-file";
import { UsageError } from "./options";

/** Files above this are not looks or profiles. */
const MAX_JSON = 16 * 2 ** 20;

/** Tables above this are not read. */
const MAX_TEXT = 256 * 2 ** 20;

/** A text file, ordinary and no longer than `largest` bytes. Throws UsageError that names it. */
export function readText(path: string, largest = MAX_TEXT): string {
  const found = statSync(path, { throwIfNoEntry: false });
  if (!found) throw new UsageError(`${path}: there is no such file`);
  if (!found.isFile()) throw new UsageError(`${path}: is no ordinary file`);
  if (found.size > largest)
    throw new UsageError(`${path}: is larger than ${largest / 2 ** 20} MiB, which no such file is`);
  try {
    return readFileSync(path, "utf8");
  } catch (error) {
    throw new UsageError(`${path}: cannot be opened (${(error as NodeJS.ErrnoException).code})`);
  }
}

export function readJson(path: string): unknown {
  const text = readText(path, MAX_JSON);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new UsageError(`${path}: is not JSON: ${(error as Error).message}`);
  }
}

/** Kinds of JSON files, by the name `schema` takes. */
export const SCHEMAS: Record<string, { format: string; schema: z.ZodType }> = {
  look: { format: "pale-halo-look", schema: lookSchema },
  lens: { format: "pale-halo-lens", schema: lensSchema },
  filter: { format: "pale-halo-filter", schema: filterSchema },
  encoding: { format: "pale-halo-encoding", schema: ownEncodingSchema },
  jobs: { format: "pale-halo-jobs", schema: jobsSchema },
};

export function schemaFor(path: string, value: unknown): z.ZodType {
  const format = (value as { format?: unknown } | null)?.format;
  const found = Object.values(SCHEMAS).find((entry) => entry.format === format);
  if (!found)
    throw new UsageError(
      `${path}: format: is ${JSON.stringify(format) ?? "missing"}; it must be one of ${Object.values(SCHEMAS)
        .map((entry) => entry.format)
        .join(", ")}`,
    );
  return found.schema;
}

/** The line of a JSON text that a path of it lies on, or the nearest around it; the first is 1. */
function lineOf(text: string, path: readonly PropertyKey[]): number {
  const tree = parseTree(text);
  for (let length = path.length; tree && length > 0; length--) {
    const node = findNodeAtLocation(tree, path.slice(0, length) as (string | number)[]);
    if (node) return text.slice(0, node.offset).split("\n").length;
  }
  return 1;
}

/** Everything that is wrong with a JSON file by its schema: the line, the field, and what would be right. */
export function problemsInFile(path: string, schema: z.ZodType, value: unknown): string[] {
  const found = problemsOf(schema, value);
  if (!found.length) return [];
  const text = readText(path, MAX_JSON);
  return found.map((problem) => `line ${lineOf(text, problem.path)}: ${problemText(problem)}`);
}

/** Reads a JSON file by its schema; throws UsageError that names the file, the line and the field. */
export function parse<T>(path: string, schema: z.ZodType<T>): T {
  const value = readJson(path);
  const result = schema.safeParse(value);
  if (!result.success) throw new UsageError(`${path}: ${problemsInFile(path, schema, value).slice(0, 3).join("; ")}`);
  return result.data;
}

export const readLook = (path: string): Look => parse(path, lookSchema);

export function readProfile(path: string): Profile {
  return parse(
    path,
    schemaFor(path, readJson(path)) === lensSchema
      ? (lensSchema as z.ZodType<Profile>)
      : (filterSchema as unknown as z.ZodType<Profile>),
  );
}
