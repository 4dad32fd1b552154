import Papa from "papaparse";
import { framesADay, readTimeCode, type TimeCode } from "../frame/time-code";
import type { Timed } from "./when";

/** What a lens was set to on one frame: mm, T-stop, m; what was not recorded is left out. */
export interface LensRow {
  frame: number;
  focalLength?: number;
  stop?: number;
  focusDistance?: number;
}

export const LENS_QUANTITIES = ["focalLength", "stop", "focusDistance"] as const;
type Quantity = (typeof LENS_QUANTITIES)[number];

/** Headings of a column, in small letters and without anything but letters. */
const HEADINGS: Record<Quantity | "frame" | "timeCode", readonly string[]> = {
  frame: ["frame", "framenumber", "number"],
  timeCode: ["timecode", "tc"],
  focalLength: ["focallength", "focallengthmm", "focalmm", "focal", "zoom", "zoommm"],
  stop: ["tstop", "stop", "iris", "tnumber", "aperture"],
  focusDistance: ["focus", "focusm", "focusdistance", "focusdistancem", "distance", "distancem"],
};
/** Frames that lens data is read for at most: over an hour at 24 a second. */
export const MAX_LENS_ROWS = 100_000;

/** A shot's frames, as rows are matched to them. */
export interface ShotFrames {
  first: number;
  last: number;
  frameRate: number;
  /** Of the first frame, where the footage has one. */
  timeCode: string | null;
}

export interface LensData {
  rows: LensRow[];
  /** What did not match, in words. */
  told: string[];
}

const plain = (heading: string) => heading.toLowerCase().replaceAll(/[^a-z]/g, "");
const named = (heading: string): keyof typeof HEADINGS | null =>
  (Object.keys(HEADINGS) as (keyof typeof HEADINGS)[]).find((name) => HEADINGS[name].includes(plain(heading))) ?? null;

/** The table in a CSV or JSON file, rows by heading. Throws a plain Error that says what is wrong. */
function tableOf(text: string): Record<string, unknown>[] {
  if (/^\s*[[{]/.test(text)) {
    let read: unknown;
    try {
      read = JSON.parse(text);
    } catch {
      throw new Error("is not valid JSON");
    }
    const rows = Array.isArray(read) ? read : (read as { frames?: unknown }).frames;
    if (!Array.isArray(rows))
      throw new Error("holds no list of frames: [{ frame, focalLength, stop, focusDistance }, …]");
    return rows as Record<string, unknown>[];
  }
  const { data, errors, meta } = Papa.parse<Record<string, unknown>>(text.trim(), {
    header: true,
    skipEmptyLines: true,
  });
  const [fault] = errors.filter(({ type }) => type !== "Delimiter");
  if (fault) throw new Error(`row ${(fault.row ?? 0) + 2}: ${fault.message}`);
  if (!meta.fields?.length) throw new Error("has no heading row");
  return data;
}

/** Largest sensible value of each, as the look has it. */
const MOST: Record<Quantity, number> = { focalLength: 1000, stop: 128, focusDistance: 1e6 };

/**
 * Reads lens data: a CSV with headings or JSON, by frame or by time code, and matches it to a shot's frames. What does
 * not match is said. Throws Error where the file cannot be used at all.
 */
export function readLensData(text: string, shot: ShotFrames): LensData {
  const table = tableOf(text);
  if (table.length > MAX_LENS_ROWS) throw new Error(`has ${table.length} rows; up to ${MAX_LENS_ROWS} are read`);
  if (!table.length) throw new Error("has no rows");
  const columns = new Map(Object.keys(table[0]!).map((heading) => [named(heading), heading] as const));
  const told: string[] = Object.keys(table[0]!)
    .filter((heading) => named(heading) === null)
    .map((heading) => `the column “${heading}” is not read`);
  const by = columns.has("frame") ? "frame" : columns.has("timeCode") ? "timeCode" : null;
  if (!by) throw new Error("has no column “frame” or “time code”");
  const quantities = LENS_QUANTITIES.filter((name) => columns.has(name));
  if (!quantities.length) throw new Error("has no column “focal length”, “T-stop” or “focus”");
  const start = shot.timeCode === null ? null : readTimeCode(shot.timeCode, shot.frameRate);
  if (by === "timeCode" && !start) throw new Error("goes by time code, and the footage has none");
  const rows = table.flatMap((row, i): LensRow[] => {
    const frame = frameOf(row[columns.get(by)!], by, shot, start);
    if (frame === null)
      throw new Error(
        `row ${i + 1}: “${String(row[columns.get(by)!])}” is no ${by === "frame" ? "frame" : "time code"}`,
      );
    const values = quantities.flatMap((name): [Quantity, number][] => {
      const cell = row[columns.get(name)!];
      if (cell === undefined || cell === null || cell === "") return [];
      const value = numberOf(name, String(cell).trim());
      if (!(value > 0 && value <= MOST[name]))
        throw new Error(
          `row ${i + 1}: “${String(cell)}” is no ${name === "stop" ? "T-stop" : name === "focalLength" ? "focal length in mm" : "distance in m"}`,
        );
      return [[name, value]];
    });
    return [{ frame, ...Object.fromEntries(values) }];
  });
  return matched(rows, shot, told);
}

/** How focus at infinity is written. */
const INFINITY = /^(inf|infinity|∞)$/i;

/**
 * A number as lens data has it: a stop perhaps with its T, a distance perhaps infinite, which is the farthest there is.
 */
const numberOf = (name: Quantity, text: string): number =>
  name === "focusDistance" && INFINITY.test(text) ? MOST.focusDistance : Number(text.replace(/^T\s*/i, ""));

function frameOf(cell: unknown, by: "frame" | "timeCode", shot: ShotFrames, start: TimeCode | null): number | null {
  if (by === "frame") {
    const number = Number(cell);
    return cell !== "" && Number.isInteger(number) ? number : null;
  }
  const code = readTimeCode(String(cell), shot.frameRate);
  if (!code) return null;
  // Time code begins again at midnight: a row is the nearest it can be to the shot's first frame.
  const day = framesADay(code, shot.frameRate);
  const after = code.frames - start!.frames;
  return shot.first + after - day * Math.round(after / day);
}

/** What of the rows lies in the shot, and what is missing there, in words. */
function matched(rows: LensRow[], { first, last }: ShotFrames, told: string[]): LensData {
  const inside = rows.filter(({ frame }) => frame >= first && frame <= last).sort((a, b) => a.frame - b.frame);
  if (!inside.length)
    throw new Error(
      `has frames ${rows[0]!.frame} to ${rows.at(-1)!.frame}; the shot has ${first} to ${last}, and none of them match`,
    );
  const outside = rows.length - inside.length;
  const missing = last - first + 1 - new Set(inside.map(({ frame }) => frame)).size;
  return {
    rows: inside,
    told: [
      ...told,
      ...(outside
        ? [`${outside === 1 ? "1 row lies" : `${outside} rows lie`} outside the shot’s frames ${first} to ${last}`]
        : []),
      ...(missing
        ? [
            missing === 1
              ? "1 frame of the shot has no row; it holds the one before"
              : `${missing} frames of the shot have no row; they hold the one before`,
          ]
        : []),
    ],
  };
}

const ROUND = 4;

/**
 * Rows as what times the lens: a table a quantity, frames without a value hold the one before (the first ones the
 * first).
 */
export function lensTables(rows: readonly LensRow[]): Partial<Record<`lens.${Quantity}`, Timed>> {
  const first = rows[0]!.frame;
  const last = rows.at(-1)!.frame;
  if (last - first >= MAX_LENS_ROWS)
    throw new Error(`goes from frame ${first} to ${last}; up to ${MAX_LENS_ROWS} frames are read`);
  const byFrame = new Map(rows.map((row) => [row.frame, row]));
  return Object.fromEntries(
    LENS_QUANTITIES.flatMap((name) => {
      let latest = rows.find((row) => row[name] !== undefined)?.[name];
      if (latest === undefined) return [];
      const values = Array.from({ length: last - first + 1 }, (_, i) => {
        latest = byFrame.get(first + i)?.[name] ?? latest!;
        return Number(latest.toFixed(ROUND));
      });
      const isEven = values.every((value) => value === values[0]);
      return [[`lens.${name}`, { table: { first, values: isEven ? [values[0]!] : values } }] as const];
    }),
  );
}
