import { existsSync, readdirSync, statSync } from "node:fs";
import { basename, dirname, extname, join } from "node:path";
import { MAX_FRAME, type Ranges, rangesOf } from "../../core/frame/ranges";

/** A file, or a numbered sequence. */
export interface Pattern {
  folder: string;
  before: string;
  after: string;
  /** Digits the number is padded to; 0 for a single file. */
  digits: number;
}

/** A pattern as a user writes it, with %04d, #### or @@@@ for the number; of a name without any it is that file. */
export function parsePattern(pattern: string): Pattern {
  const name = basename(pattern);
  const found = /%0?(\d{0,2})d|#{1,20}|@{1,20}/.exec(name);
  if (!found) return literally(pattern);
  const digits = found[0].startsWith("%") ? Number(found[1] || 1) : found[0].length;
  return {
    folder: dirname(pattern),
    before: name.slice(0, found.index),
    after: name.slice(found.index + found[0].length),
    digits,
  };
}

/** A name as it stands, whatever is in it. */
export const literally = (path: string): Pattern => ({
  folder: dirname(path),
  before: basename(path),
  after: "",
  digits: 0,
});

/**
 * What stands for a number in names that are kept; a % of the name itself is doubled, so that no name is read as more
 * than it is.
 */
const numberMark = (digits: number) => `%0${digits}d`;
const STORED = /%%|%0(\d{1,2})d/g;
const escaped = (name: string) => name.replaceAll("%", "%%");
const plainName = (name: string) => name.replaceAll("%%", "%");

/** A pattern as `storedName` writes it. */
export function parseStored(path: string): Pattern {
  const name = basename(path);
  const mark = [...name.matchAll(STORED)].find(([text]) => text !== "%%");
  if (!mark) return literally(join(dirname(path), plainName(name)));
  return {
    folder: dirname(path),
    before: plainName(name.slice(0, mark.index)),
    after: plainName(name.slice(mark.index + mark[0].length)),
    digits: Number(mark[1]),
  };
}

/** A pattern's name as it is kept. */
export const storedName = ({ before, after, digits }: Pattern): string =>
  digits ? `${escaped(before)}${numberMark(digits)}${escaped(after)}` : escaped(before);

/** A kept name as it is shown. */
export const shownName = (stored: string): string => plainName(stored);

export const isSequence = ({ digits }: Pattern) => digits > 0;

/** What all files of a pattern begin with: their name without number and extension. */
export const stemOf = ({ before, digits }: Pattern): string =>
  digits ? before.replace(/[._-]+$/, "") || "look" : basename(before, extname(before));

const numberText = (frame: number, digits: number) =>
  `${frame < 0 ? "-" : ""}${String(Math.abs(frame)).padStart(digits, "0")}`;

export function fileOf(pattern: Pattern, frame: number): string {
  const { folder, before, after, digits } = pattern;
  return join(folder, isSequence(pattern) ? `${before}${numberText(frame, digits)}${after}` : before);
}

/**
 * Numbers of the frames that exist; a single file has the number in its name, or else 1. A name whose number no frame
 * can have is not one.
 */
export function framesOf(pattern: Pattern): Ranges {
  const { folder, before, after, digits } = pattern;
  if (!isSequence(pattern)) {
    const number = frameInName(before) ?? 1;
    return existsSync(fileOf(pattern, number)) ? [[number, number]] : [];
  }
  if (!statSync(folder, { throwIfNoEntry: false })?.isDirectory()) return [];
  const numbers = readdirSync(folder)
    .filter((name) => name.startsWith(before) && name.endsWith(after) && name.length > before.length + after.length)
    .map((name) => name.slice(before.length, name.length - after.length))
    // Written otherwise, "01" for "0001", it is another sequence's frame.
    .filter((number) => /^-?\d+$/.test(number) && numberText(Number(number), digits) === number)
    .map(Number)
    .filter((frame) => Math.abs(frame) <= MAX_FRAME);
  return rangesOf(numbers);
}

/** Frames missing in a row above which what follows is another sequence: about seven minutes. */
export const MAX_GAP_LENGTH = 10_000;

/** Files that are frames of one sequence, or one file. */
export interface NameGroup {
  pattern: string;
  frames: Ranges;
  /** In the order of their numbers. */
  files: string[];
}

interface Numbered {
  frame: number;
  file: string;
}

/** Parts of a sequence with no gap above the bound. */
function withoutLongGaps(entries: Numbered[]): Numbered[][] {
  const parts: Numbered[][] = [];
  for (const entry of entries) {
    const before = parts.at(-1)?.at(-1);
    if (before && entry.frame - before.frame - 1 <= MAX_GAP_LENGTH) parts.at(-1)!.push(entry);
    else parts.push([entry]);
  }
  return parts;
}

/** Longer numbers without zeros in front are taken as padded to this many digits: they may grow by one more. */
const MAX_UNPADDED_DIGITS = 4;
/** Fewer digits in the midst of a name are a version or a camera's letter and number. */
const MIN_INNER_DIGITS = 4;

/** A name that has a frame's number in it. */
interface NumberedName {
  before: string;
  /** With its sign, if it has one. */
  number: string;
  after: string;
  frame: number;
}

/**
 * The number in a file's name: what stands last before the extension, or else the last of at least four digits. A sign
 * belongs to it at the beginning, or after a dot, a line or a space. Null where there is none that a frame can have.
 */
function numbered(file: string): NumberedName | null {
  const stem = file.replace(/\.[^.]+$/, "");
  if (stem === file) return null;
  const runs = [...stem.matchAll(/(?:(?<=^|[._ ])-)?\d+/g)];
  const last = runs.findLast((run) => run.index + run[0].length === stem.length);
  const found = last ?? runs.findLast(([text]) => text.replace("-", "").length >= MIN_INNER_DIGITS);
  if (!found || Math.abs(Number(found[0])) > MAX_FRAME) return null;
  const [number] = found;
  const end = found.index + number.length;
  return { before: file.slice(0, found.index), number, after: file.slice(end), frame: Number(number) };
}

/**
 * The number of a single file's frame: what stands last in its name, set apart or of at least four digits; null where
 * there is none.
 */
function frameInName(file: string): number | null {
  const found = numbered(file);
  if (!found?.after.startsWith(".")) return null;
  return /(^|[._ ])$/.test(found.before) || digitsIn(found.number) >= MIN_INNER_DIGITS ? found.frame : null;
}

const digitsIn = (number: string) => number.replace("-", "").length;
const isPadded = (number: string) => /^-?0\d/.test(number);

/**
 * Digits that the numbers of one name are padded to: where some begin with 0, those of as many digits or more go with
 * them.
 */
function paddings(entries: readonly NumberedName[]): (entry: NumberedName) => number {
  const padded = [...new Set(entries.filter(({ number }) => isPadded(number)).map(({ number }) => digitsIn(number)))];
  const within = (length: number) => padded.filter((digits) => digits <= length).sort((a, b) => b - a)[0];
  const alone = entries.filter(({ number }) => !isPadded(number) && within(digitsIn(number)) === undefined);
  const fewest = Math.min(MAX_UNPADDED_DIGITS, ...alone.map(({ number }) => digitsIn(number)));
  return ({ number }) => (isPadded(number) ? digitsIn(number) : (within(digitsIn(number)) ?? fewest));
}

/**
 * Groups file names into numbered sequences and single files; a sequence is two or more of one name, padding and kind.
 */
export function groupNames(names: string[]): NameGroup[] {
  const sequences = new Map<string, Numbered[]>();
  const add = (pattern: string, frame: number, file: string) => {
    if (!sequences.has(pattern)) sequences.set(pattern, []);
    sequences.get(pattern)!.push({ frame, file });
  };
  const found = names.map((file) => ({ file, name: numbered(file) }));
  const alike = new Map<string, NumberedName[]>();
  for (const { name } of found)
    if (name) {
      const key = `${name.before}\0${name.after}`;
      alike.set(key, [...(alike.get(key) ?? []), name]);
    }
  const digitsOf = new Map([...alike].map(([key, entries]) => [key, paddings(entries)]));
  for (const { file, name } of found) {
    if (!name) add(storedName(literally(file)), 1, file);
    else {
      const { before, after, frame } = name;
      const digits = digitsOf.get(`${before}\0${after}`)!(name);
      add(storedName({ folder: "", before, after, digits }), frame, file);
    }
  }
  return [...sequences].flatMap(([pattern, entries]) =>
    withoutLongGaps(entries.sort((a, b) => a.frame - b.frame)).map((part) => ({
      pattern: part.length > 1 ? pattern : storedName(literally(part[0]!.file)),
      frames: rangesOf(part.map(({ frame }) => frame)),
      files: part.map(({ file }) => file),
    })),
  );
}
