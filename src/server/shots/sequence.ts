import { existsSync, readdirSync, statSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import { LARGEST_FRAME, type Ranges, rangesOf } from "../../core/frame/ranges";

/** A file, or a numbered sequence written with %04d or ####. */
export interface Pattern {
  folder: string;
  before: string;
  after: string;
  /** Digits the number is padded to; 0 for a single file. */
  digits: number;
}

export function parsePattern(pattern: string): Pattern {
  const name = basename(pattern);
  const found = /%0?(\d{0,2})d|#{1,20}/.exec(name);
  if (!found) return { folder: dirname(pattern), before: name, after: "", digits: 0 };
  const digits = found[0].startsWith("#") ? found[0].length : Number(found[1] || 1);
  return {
    folder: dirname(pattern),
    before: name.slice(0, found.index),
    after: name.slice(found.index + found[0].length),
    digits,
  };
}

export const isSequence = ({ digits }: Pattern) => digits > 0;

export function fileOf(pattern: Pattern, frame: number): string {
  const { folder, before, after, digits } = pattern;
  return join(folder, isSequence(pattern) ? `${before}${String(frame).padStart(digits, "0")}${after}` : before);
}

/** Numbers of the frames that exist; a single file is frame 1. A name whose number no frame can have is not one. */
export function framesOf(pattern: Pattern): Ranges {
  const { folder, before, after, digits } = pattern;
  if (!isSequence(pattern)) return existsSync(fileOf(pattern, 1)) ? [[1, 1]] : [];
  if (!statSync(folder, { throwIfNoEntry: false })?.isDirectory()) return [];
  const numbers = readdirSync(folder)
    .filter((name) => name.startsWith(before) && name.endsWith(after) && name.length > before.length + after.length)
    .map((name) => name.slice(before.length, name.length - after.length))
    // Written otherwise, "01" for "0001", it is another sequence's frame.
    .filter((number) => /^\d+$/.test(number) && String(Number(number)).padStart(digits, "0") === number)
    .map(Number)
    .filter((frame) => frame <= LARGEST_FRAME);
  return rangesOf(numbers);
}

/** Frames missing in a row above which what follows is another sequence: about seven minutes. */
export const LONGEST_GAP = 10_000;

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
    if (before && entry.frame - before.frame - 1 <= LONGEST_GAP) parts.at(-1)!.push(entry);
    else parts.push([entry]);
  }
  return parts;
}

const MOST_DIGITS_UNPADDED = 4;

/** The pattern a file's name is of, and its number; null where it has no number that a frame can have. */
function numbered(file: string): { pattern: string; frame: number } | null {
  const found = /^(.*?)(\d+)(\.[^.]+)$/.exec(file);
  if (!found) return null;
  const [, before, number, after] = found as unknown as [string, string, string, string];
  if (Number(number) > LARGEST_FRAME) return null;
  const digits = number.startsWith("0") ? number.length : Math.min(number.length, MOST_DIGITS_UNPADDED);
  return { pattern: `${before}%0${digits}d${after}`, frame: Number(number) };
}

/** Groups file names into numbered sequences and single files; a sequence is two or more of one name, padding and kind. */
export function groupNames(names: string[]): NameGroup[] {
  const sequences = new Map<string, Numbered[]>();
  for (const file of names) {
    const { pattern, frame } = numbered(file) ?? { pattern: file, frame: 1 };
    if (sequences.has(pattern)) sequences.get(pattern)!.push({ frame, file });
    else sequences.set(pattern, [{ frame, file }]);
  }
  return [...sequences].flatMap(([pattern, entries]) =>
    withoutLongGaps(entries.sort((a, b) => a.frame - b.frame)).map((part) => ({
      pattern: part.length > 1 ? pattern : part[0]!.file,
      frames: rangesOf(part.map(({ frame }) => frame)),
      files: part.map(({ file }) => file),
    })),
  );
}
