import { randomUUID } from "node:crypto";
import { readFileSync, readlinkSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { hostname } from "node:os";
import { join } from "node:path";
import { setTimeout as wait } from "node:timers/promises";

/** Who has a data folder. */
export interface Holder {
  pid: number;
  /** What it was started as, in words. */
  program: string;
  /** ISO 8601 */
  since: string;
}

/**
 * A lock's socket is heard within one container or machine. Where several share a folder, its holder also writes a file
 * in it again and again: whoever finds such a file from elsewhere looks whether it still changes. No clocks are
 * compared.
 */
const FILE = ".holder";
const BEATS_EVERY_MS = 1000;
/** A file that has not changed for so long is a dead holder's. */
const DEAD_AFTER_MS = 6000;
const LOOKS_EVERY_MS = 250;

interface Beat extends Holder {
  id: string;
  /** Where its socket is heard. */
  place: string;
  beat: number;
}

/** Another place's holder is alive. */
export class StillBeats extends Error {
  constructor(readonly holder: Holder) {
    super("The folder's holder is alive");
  }
}

/** What those who hear one another's sockets have in common. */
function placeHere(): string {
  try {
    return `${readFileSync("/proc/sys/kernel/random/boot_id", "utf8").trim()} ${readlinkSync("/proc/self/ns/net")}`;
  } catch {
    return hostname();
  }
}

function readBeat(path: string): Beat | null {
  try {
    const found = JSON.parse(readFileSync(path, "utf8")) as Beat;
    return typeof found.id === "string" && typeof found.beat === "number" ? found : null;
  } catch {
    return null;
  }
}

function writeBeat(path: string, beat: Beat): void {
  writeFileSync(`${path}.${beat.id}`, JSON.stringify(beat));
  renameSync(`${path}.${beat.id}`, path);
}

/** Waits until a holder from elsewhere is known to be dead. Throws StillBeats. */
async function outlive(path: string, found: Beat): Promise<void> {
  for (let waited = 0; waited < DEAD_AFTER_MS; waited += LOOKS_EVERY_MS) {
    await wait(LOOKS_EVERY_MS);
    const now = readBeat(path);
    if (!now) return;
    if (now.id !== found.id || now.beat !== found.beat) throw new StillBeats(now);
  }
}

/**
 * Begins to say that a folder is held; `place`: where the holder's socket is heard. A holder whose folder was taken by
 * another while it stood still ends at once (`lost`): two would destroy the database. Throws StillBeats where another
 * place's holder is alive.
 */
export async function beginBeats(
  folder: string,
  holder: Holder,
  { place = placeHere(), lost = endAtOnce }: { place?: string; lost?: (other: Holder) => void } = {},
): Promise<{ end(): void }> {
  const path = join(folder, FILE);
  const found = readBeat(path);
  if (found && found.place !== place) await outlive(path, found);
  const own: Beat = { ...holder, id: randomUUID(), place, beat: 0 };
  writeBeat(path, own);
  const beats = setInterval(() => {
    const now = readBeat(path);
    if (now && now.id !== own.id) {
      clearInterval(beats);
      return lost(now);
    }
    own.beat++;
    try {
      writeBeat(path, own);
    } catch {
      // A full disk: the next beat may be written again, and nobody takes over within a few.
    }
  }, BEATS_EVERY_MS).unref();
  return {
    end() {
      clearInterval(beats);
      if (readBeat(path)?.id === own.id) rmSync(path, { force: true });
    },
  };
}

function endAtOnce(other: Holder): void {
  console.error(
    `The data folder was taken by process ${other.pid} (${other.program}) while this one stood still; it ends`,
  );
  process.exit(1);
}
