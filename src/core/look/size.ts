/**
 * How much a look may hold, looked at before any of it is parsed: a value that is nothing like a look costs no more
 * than one that is.
 */
export const MAX_ELEMENTS = 64;
export const MAX_TRACKS = 24;
/** What may be timed in one element, or in the look itself. */
export const MAX_TIMED = 200;
/** Numbers, words and lists in all of it: some twenty tracks of a thousand frames. */
const MAX_VALUES = 200_000;
/** Lists of anything but numbers: keyframes are the longest. */
const MAX_ENTRIES = 1000;
const MAX_DEPTH = 16;

export interface TooMuch {
  path: (string | number)[];
  message: string;
}

const listed = (value: unknown, name: string): unknown[] => {
  const found = (value as Record<string, unknown> | null)?.[name];
  return Array.isArray(found) ? found : [];
};

function timedIn(value: unknown, path: (string | number)[]): TooMuch | null {
  const when = (value as { when?: unknown } | null)?.when;
  const count = typeof when === "object" && when !== null ? Object.keys(when).length : 0;
  return count > MAX_TIMED
    ? { path: [...path, "when"], message: `has ${count} entries; up to ${MAX_TIMED} are taken` }
    : null;
}

/** Counts what is in a value, without calling itself: values may be nested however deep. */
function counted(value: unknown): string | null {
  let count = 0;
  const left: { value: unknown; depth: number }[] = [{ value, depth: 0 }];
  for (let next = left.pop(); next; next = left.pop()) {
    if (typeof next.value !== "object" || next.value === null) continue;
    if (next.depth > MAX_DEPTH) return `is nested deeper than ${MAX_DEPTH} levels`;
    const entries = Object.values(next.value);
    count += entries.length;
    if (count > MAX_VALUES) return `holds more than ${MAX_VALUES} values`;
    if (entries.length > MAX_ENTRIES && entries.some((entry) => typeof entry === "object"))
      return `holds a list of ${entries.length}; up to ${MAX_ENTRIES} are taken`;
    for (const entry of entries)
      if (typeof entry === "object" && entry !== null) left.push({ value: entry, depth: next.depth + 1 });
  }
  return null;
}

/** What of a look as it was read is too much to be one; null where nothing is. */
export function tooMuch(read: unknown): TooMuch | null {
  for (const [name, most] of [
    ["elements", MAX_ELEMENTS],
    ["tracks", MAX_TRACKS],
  ] as const) {
    const { length } = listed(read, name);
    if (length > most) return { path: [name], message: `holds ${length}; up to ${most} are taken` };
  }
  const timed = [
    timedIn(read, []),
    ...listed(read, "elements").map((element, i) => timedIn(element, ["elements", i])),
  ].find((found) => found !== null);
  if (timed) return timed;
  const message = counted(read);
  return message === null ? null : { path: [], message };
}
