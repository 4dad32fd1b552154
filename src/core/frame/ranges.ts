/**
 * Frame numbers as runs: first and last of each, ascending, with at least one missing between two. Never as long as a
 * gap.
 */
export type Ranges = readonly (readonly [first: number, last: number])[];

/** The highest number a frame can have: what the database and every file format here can hold. */
export const MAX_FRAME = 2 ** 31 - 1;

/** Runs of numbers given in any order; a number that comes twice counts once. */
export function rangesOf(numbers: Iterable<number>): Ranges {
  const runs: [number, number][] = [];
  for (const number of [...numbers].sort((a, b) => a - b)) {
    const last = runs.at(-1);
    if (last && number <= last[1] + 1) last[1] = Math.max(last[1], number);
    else runs.push([number, number]);
  }
  return runs;
}

/** Numbers from `first` to `last`; none where `last` comes before. */
export const between = (first: number, last: number): Ranges => (last >= first ? [[first, last]] : []);

export const countOf = (ranges: Ranges): number => ranges.reduce((sum, [first, last]) => sum + last - first + 1, 0);
/** The first number. Of no frames it is NaN. */
export const firstOf = (ranges: Ranges): number => ranges[0]?.[0] ?? NaN;
export const lastOf = (ranges: Ranges): number => ranges.at(-1)?.[1] ?? NaN;

export const hasFrame = (ranges: Ranges, frame: number): boolean =>
  Number.isInteger(frame) && ranges.some(([first, last]) => frame >= first && frame <= last);

/** The number at a place, from 0; undefined beyond the last. */
export function frameAt(ranges: Ranges, index: number): number | undefined {
  let left = index;
  for (const [first, last] of ranges) {
    if (left < 0) return undefined;
    if (left <= last - first) return first + left;
    left -= last - first + 1;
  }
  return undefined;
}

/** The place of a number, from 0; -1 where it is not there. */
export function indexOfFrame(ranges: Ranges, frame: number): number {
  let before = 0;
  for (const [first, last] of ranges) {
    if (frame >= first && frame <= last) return before + frame - first;
    before += last - first + 1;
  }
  return -1;
}

/** The last number that is not after `frame`; undefined where all are. */
export const frameUpTo = (ranges: Ranges, frame: number): number | undefined => {
  const run = ranges.findLast(([first]) => first <= frame);
  return run && Math.min(run[1], frame);
};

/** What of the ranges lies from `first` to `last`. */
export const clipped = (ranges: Ranges, first: number, last: number): Ranges =>
  ranges
    .filter((run) => run[1] >= first && run[0] <= last)
    .map((run) => [Math.max(run[0], first), Math.min(run[1], last)]);

/** The ranges cut into parts of so many numbers, in order; the last may have fewer. */
export function parts(ranges: Ranges, size: number): Ranges[] {
  const cut: [number, number][][] = [];
  let room = 0;
  for (const [first, last] of ranges)
    for (let at = first; at <= last;) {
      if (!room) {
        cut.push([]);
        room = size;
      }
      const end = Math.min(last, at + room - 1);
      cut.at(-1)!.push([at, end]);
      room -= end - at + 1;
      at = end + 1;
    }
  return cut;
}

/** What is missing between the first and the last. */
export const gapsOf = (ranges: Ranges): Ranges =>
  ranges.slice(1).map(([first], i) => [ranges[i]![1] + 1, first - 1] as const);

/** The numbers, one after another. */
export function* framesIn(ranges: Ranges): Generator<number> {
  for (const [first, last] of ranges) for (let frame = first; frame <= last; frame++) yield frame;
}

const MAX_RUNS_NAMED = 6;

/** Runs in words: "1 to 6, 9". */
export function rangesText(ranges: Ranges): string {
  const runs = ranges.map(([first, last]) => (last > first ? `${first} to ${last}` : `${first}`));
  return runs.length > MAX_RUNS_NAMED ? `${runs.slice(0, MAX_RUNS_NAMED).join(", ")} …` : runs.join(", ");
}
