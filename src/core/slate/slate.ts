/** Words burnt into frames for review: what may stand in them, and what becomes of it. */

/** What is filled in: for a render as a whole, and for each frame. */
export const SLATE_TOKENS = ["shot", "version", "date", "frame", "timecode"] as const;
export const MAX_SLATE = 160;
export const DEFAULT_SLATE = "{shot} {version} {frame} {timecode}";

export interface SlateOf {
  shot: string;
  version: string;
  /** YYYYMMDD */
  date: string;
}

/** What is wrong with a slate, in words; null where nothing is. */
export function slateProblem(slate: string): string | null {
  const tokens = [...slate.matchAll(/\{([^{}]*)\}/g)].map(([, token]) => token!);
  const other = tokens.find((token) => !(SLATE_TOKENS as readonly string[]).includes(token));
  if (other !== undefined) return `{${other}} is none of ${SLATE_TOKENS.map((token) => `{${token}}`).join(", ")}`;
  if (/[{}]/.test(slate.replaceAll(/\{[^{}]*\}/g, ""))) return "a brace is open";
  if (!slate.trim()) return "there is nothing in it";
  return slate.length > MAX_SLATE ? `is longer than ${MAX_SLATE} letters` : null;
}

/** A slate of one render: what frames differ in stays to be filled in. */
export const slateOfRender = (slate: string, of: SlateOf): string =>
  slate.replaceAll(
    /\{(shot|version|date)\}/g,
    // A version that is called like a token is none.
    (_, token: keyof SlateOf) => of[token].replaceAll(/[{}]/g, ""),
  );

/** The words of one frame. */
export const slateOfFrame = (slate: string, { frame, timeCode }: { frame: number; timeCode: string }): string =>
  slate.replaceAll("{frame}", String(frame)).replaceAll("{timecode}", timeCode);
