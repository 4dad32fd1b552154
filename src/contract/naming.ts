/** Names of delivered files by a pattern: what may stand in it, and what becomes of it. */
import { isMadeUpId } from "./shots";

const MAX_STEM = 60;

/** What files of a shot are called: by its number where it has one, else by its name. */
export function stemOfShot({ id, name }: { id: string; name: string }): string {
  if (!isMadeUpId(id)) return id;
  const letters = name.normalize("NFKC").replace(/[^\p{L}\p{N}._-]+/gu, "_");
  return letters.replace(/^[._]+|[._]+$/g, "").slice(0, MAX_STEM) || id;
}

/** What is known of a render when its files are named. */
export interface NamedOf {
  shot: string;
  version: string;
  /** YYYYMMDD */
  date: string;
}

/** The day as names have it: YYYYMMDD. */
export const compactDate = (): string => new Date().toISOString().slice(0, 10).replaceAll("-", "");

export const TOKENS = ["shot", "version", "date", "frame"] as const;
const FRAME = "{frame}";
/** Of a name before and behind the frame's number, bytes: file systems take 255 of all of it. */
const [MAX_BEFORE, MAX_BEHIND] = [170, 40];

/** So much of a text as takes so many bytes in UTF-8: a letter may be several, and is not cut through. */
function within(text: string, bytes: number): string {
  let out = text;
  while (new TextEncoder().encode(out).length > bytes) out = [...out].slice(0, -1).join("");
  return out;
}

/** Letters, digits and a few signs: what every file system takes. */
const plain = (text: string) =>
  text
    .normalize("NFKC")
    .replace(/[^\p{L}\p{N}._{}-]+/gu, "_")
    .replace(/^[._-]+|[._-]+$/g, "");

/** What is wrong with a pattern, in words; null where nothing is. */
export function namingProblem(pattern: string): string | null {
  const unknown = [...pattern.matchAll(/\{([^}]*)\}/g)].map(([, token]) => token!);
  const other = unknown.find((token) => !(TOKENS as readonly string[]).includes(token));
  if (other !== undefined) return `{${other}} is none of ${TOKENS.map((token) => `{${token}}`).join(", ")}`;
  if (/[{}]/.test(pattern.replaceAll(/\{[^{}]*\}/g, ""))) return "a brace is open";
  if (/[/\\]/.test(pattern)) return "a name has no folders in it";
  if (!plain(pattern.replaceAll(FRAME, ""))) return "there is nothing of a name in it";
  return null;
}

/** A pattern with everything in its place but the frame, which stays as {frame}; it is put last where it is left out. */
export function stemFrom(pattern: string, of: NamedOf): string {
  const filled = pattern.replaceAll(
    /\{(shot|version|date)\}/g,
    // A version that is called like a token is none.
    (_, token: keyof NamedOf) => plain(of[token].replaceAll(/[{}]/g, "")) || "none",
  );
  const whole = filled.includes(FRAME) ? filled : `${filled}.${FRAME}`;
  const [before = "", ...after] = whole.split(FRAME);
  // One number is enough.
  const parts = [within(plain(before), MAX_BEFORE), within(after.map(plain).join(""), MAX_BEHIND)];
  const joint = /[._-]$/.exec(before)?.[0] ?? (before ? "." : "");
  const behind = /^[._-]/.exec(after.join(""))?.[0] ?? (parts[1] ? "." : "");
  return `${parts[0]}${parts[0] ? joint : ""}${FRAME}${parts[1] ? behind + parts[1] : ""}`;
}

/** A file's name by a stem that holds {frame} or not: with the number's place, or, of one file for all, without it. */
export function fileNameBy(stem: string, format: string, isOneFile: boolean): string {
  if (!stem.includes(FRAME)) return isOneFile ? `${stem}.${format}` : `${stem}.%04d.${format}`;
  if (!isOneFile) return `${stem.replace(FRAME, "%04d")}.${format}`;
  return `${withoutFrame(stem)}.${format}`;
}

/** A name without the place of the frame's number: of what stands for all frames. */
export function withoutFrame(stem: string): string {
  const [before, after] = stem.split(FRAME);
  return after === undefined ? stem : `${before!.replace(/[._-]+$/, "")}${after}`.replace(/^[._-]+/, "");
}
