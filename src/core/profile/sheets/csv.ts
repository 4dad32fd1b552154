/**
 * Profiles as CSV files that spreadsheets open: first what the profile is, a line each, then its tables, each under a
 * line with its name and what it was measured at, parted by empty lines.
 */
import Papa from "papaparse";
import { profileSchema, type Profile } from "../profiles";
import { type Sheet, sheetId, sheetNames, sheetsOf, withSheet } from "./sheets";

/** Text that is no profile, and why; `line` counts from 1. */
export class CsvProblem extends Error {
  constructor(
    readonly line: number,
    reason: string,
  ) {
    super(`line ${line}: ${reason}`);
  }
}

const HEADS = ["id", "name", "set", "notes"] as const;
const NUMBERS = ["squeeze", "imageCircle"] as const;

/** What a table was measured at: the cells after its name, in the order of its id's keys. */
const KEYS: Record<string, readonly string[]> = {
  sagittal: ["focalLength", "stop"],
  meridional: ["focalLength", "stop"],
  illumination: ["focalLength", "stop"],
  distortion: ["focalLength", "model"],
  lateralColour: ["focalLength"],
  transmission: [],
  grade: ["grade"],
  spread: ["grade"],
};

const FORMATS: Record<string, Profile["format"]> = { lens: "pale-halo-lens", filter: "pale-halo-filter" };

/** A profile's numbers as CSV. Veil, pupil, ghosts, streak and swirl have no table: they stay in JSON. */
export function toCsv(profile: Profile): string {
  const kind = profile.format === "pale-halo-lens" ? "lens" : "filter";
  const lines: (string | number)[][] = [["profile", kind]];
  for (const head of HEADS) if (profile[head]) lines.push([head, profile[head]]);
  if (profile.format === "pale-halo-lens")
    for (const name of NUMBERS) if (profile[name] !== undefined) lines.push([name, profile[name]]);
  for (const { id, columns, rows } of sheetsOf(profile)) {
    const [name, ...keys] = id.split("/").map(decodeURIComponent);
    lines.push([], [name!, ...KEYS[name!]!.flatMap((key, i) => [key, keys[i]!])], columns, ...rows);
  }
  return `${Papa.unparse(lines, { newline: "\n" })}\n`;
}

interface Line {
  number: number;
  cells: string[];
}

/** Lines with something in them; empty ones part the tables. */
function blocksOf(text: string): Line[][] {
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: false });
  const blocks: Line[][] = [[]];
  data.forEach((row, i) => {
    const cells = row.map((cell) => cell.trim());
    while (cells.length && cells.at(-1) === "") cells.pop();
    if (cells.length) blocks.at(-1)!.push({ number: i + 1, cells });
    else if (blocks.at(-1)!.length) blocks.push([]);
  });
  return blocks.filter(({ length }) => length);
}

/** A number as spreadsheets write it; a decimal comma is one, too. */
const numberOf = (cell: string) => (cell === "" ? NaN : Number(cell.replace(/^(-?\d+),(\d+)$/, "$1.$2")));

function sheetIn([title, heads, ...rest]: Line[], format: Profile["format"]): Sheet {
  const [name, ...said] = title!.cells;
  if (!sheetNames(format).includes(name!))
    throw new CsvProblem(title!.number, `“${name}” is no table; there are ${sheetNames(format).join(", ")}`);
  const keys = KEYS[name!]!.map((key) => {
    const at = said.indexOf(key);
    if (at < 0 || !said[at + 1]) throw new CsvProblem(title!.number, `the table ${name} needs ${key} and its value`);
    return said[at + 1]!;
  });
  if (!heads || !rest.length)
    throw new CsvProblem(title!.number, `the table ${name} needs a line of heads and numbers`);
  const rows = rest.map(({ number, cells }) => {
    if (cells.length !== heads.cells.length)
      throw new CsvProblem(number, `has ${cells.length} cells; the table ${name} has ${heads.cells.length} columns`);
    return cells.map((cell, i) => {
      const value = numberOf(cell);
      if (!Number.isFinite(value)) throw new CsvProblem(number, `${heads.cells[i]}: “${cell}” is no number`);
      return value;
    });
  });
  return { id: sheetId(name!, ...keys), title: name!, columns: heads.cells, rows };
}

/** The profile a CSV file holds. Throws CsvProblem with the line, or ZodError where it is no profile. */
export function fromCsv(text: string): Profile {
  const [head, ...tables] = blocksOf(text);
  const first = head?.[0];
  const format = first?.cells[0] === "profile" ? FORMATS[first.cells[1] ?? ""] : undefined;
  if (!head || !format)
    throw new CsvProblem(first?.number ?? 1, "a profile begins with “profile,lens” or “profile,filter”");
  const said = new Map(head.slice(1).map(({ number, cells }) => [cells[0]!, { number, value: cells[1] ?? "" }]));
  const known: readonly string[] = [...HEADS, ...(format === "pale-halo-lens" ? NUMBERS : [])];
  for (const [name, { number }] of said)
    if (!known.includes(name))
      throw new CsvProblem(number, `“${name}” is not known here; there are ${known.join(", ")}`);
  const words = Object.fromEntries(HEADS.flatMap((name) => (said.has(name) ? [[name, said.get(name)!.value]] : [])));
  const numbers = Object.fromEntries(
    NUMBERS.flatMap((name) => (said.has(name) ? [[name, numberOf(said.get(name)!.value)]] : [])),
  );
  const lens = format === "pale-halo-lens";
  const empty = {
    format,
    version: 1,
    ...words,
    ...(lens ? { squeeze: 1, ...numbers } : { grades: [] }),
  } as unknown as Profile;
  return profileSchema.parse(tables.map((table) => sheetIn(table, format)).reduce(withSheet, empty));
}
