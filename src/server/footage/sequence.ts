import { existsSync, readdirSync } from "node:fs";
import { basename, dirname, join } from "node:path";

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
  const found = /%0?(\d*)d|#+/.exec(name);
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

/** Numbers of the frames that exist, ascending; a single file is frame 1. */
export function framesOf(pattern: Pattern): number[] {
  const { folder, before, after } = pattern;
  if (!isSequence(pattern)) return existsSync(fileOf(pattern, 1)) ? [1] : [];
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((name) => name.startsWith(before) && name.endsWith(after) && name.length > before.length + after.length)
    .map((name) => name.slice(before.length, name.length - after.length))
    .filter((number) => /^\d+$/.test(number))
    .map(Number)
    .filter((frame) => existsSync(fileOf(pattern, frame)))
    .sort((a, b) => a - b);
}

/** Numbers missing between the first and the last. */
export function gapsOf(frames: number[]): number[] {
  const have = new Set(frames);
  const gaps: number[] = [];
  for (let frame = frames[0] ?? 0; frame < (frames.at(-1) ?? 0); frame++) if (!have.has(frame)) gaps.push(frame);
  return gaps;
}

/** Groups file names into numbered sequences and single files; a sequence is two or more of one name, padding and kind. */
export function groupNames(names: string[]): { pattern: string; frames: number[]; files: string[] }[] {
  const groups = new Map<string, { frame: number; file: string }[]>();
  for (const file of names) {
    const found = /^(.*?)(\d+)(\.[^.]+)$/.exec(file);
    const digits = found ? (found[2]!.startsWith("0") ? found[2]!.length : Math.min(found[2]!.length, 4)) : 0;
    const key = found ? `${found[1]}%0${digits}d${found[3]}` : file;
    groups.set(key, [...(groups.get(key) ?? []), { frame: found ? Number(found[2]) : 1, file }]);
  }
  return [...groups]
    .flatMap(([pattern, entries]) =>
      entries.length > 1 || !pattern.includes("%0") ? [{ pattern, entries }] : [{ pattern: entries[0]!.file, entries }],
    )
    .map(({ pattern, entries }) => {
      const sorted = [...entries].sort((a, b) => a.frame - b.frame);
      return { pattern, frames: sorted.map(({ frame }) => frame), files: sorted.map(({ file }) => file) };
    });
}
