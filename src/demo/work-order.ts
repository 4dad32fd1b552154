/** In which order the frames of several shots are made: what somebody waits for first. */

export interface Asked {
  shotId: string;
  number: number;
}

/** What is left to do of a shot. */
export interface ShotWork {
  shotId: string;
  /** Its plates: to be read from a file, to be traced, or there. */
  plates: "file" | "missing" | "ready";
  /** Whether somebody reads the file now. */
  isReading: boolean;
  /** First rows of the bands that nobody traces yet. */
  bands: number[];
  /** The frame it opens on, and those that nobody draws yet, in order. */
  opening: number;
  frames: number[];
}

export type WorkItem = { shotId: string } & (
  { kind: "read" } | { kind: "trace"; band: number } | { kind: "frame"; number: number }
);

/**
 * The frame of a shot to draw next: one that is asked for, then the one it opens on, then those after what was looked
 * at last.
 */
function frameOf({ shotId, frames, opening }: ShotWork, asked: readonly Asked[]): number {
  const own = asked.filter((entry) => entry.shotId === shotId);
  const wanted = own.find(({ number }) => frames.includes(number));
  if (wanted) return wanted.number;
  if (frames.includes(opening)) return opening;
  const from = own[0]?.number ?? 0;
  return frames.find((number) => number > from) ?? frames[0]!;
}

function stepOf(work: ShotWork, asked: readonly Asked[]): WorkItem | null {
  const { shotId, plates, isReading, bands, frames } = work;
  if (!frames.length) return null;
  if (plates === "ready") return { kind: "frame", shotId, number: frameOf(work, asked) };
  if (plates === "file") return isReading ? null : { kind: "read", shotId };
  return bands.length ? { kind: "trace", shotId, band: bands[0]! } : null;
}

/**
 * What to do next, or null where all that is left waits for what is being done. `asked`: frames that were asked for,
 * the newest first: they are made first, then the rest of their shots, then what every other shot opens on, then the
 * rest in order.
 */
export function nextStep(works: readonly ShotWork[], asked: readonly Asked[]): WorkItem | null {
  const rankOf = (work: ShotWork): number => {
    const own = asked.filter(({ shotId }) => shotId === work.shotId);
    if (own.some(({ number }) => work.frames.includes(number))) return 0;
    if (asked[0]?.shotId === work.shotId) return 1;
    return work.frames.includes(work.opening) ? 2 : 3;
  };
  for (const rank of [0, 1, 2, 3])
    for (const work of works) {
      const step = rankOf(work) === rank ? stepOf(work, asked) : null;
      if (step) return step;
    }
  return null;
}
