import { randomUUID } from "node:crypto";
import { mkdir, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import type { StillOrder } from "../../contract/stills";
import { hasFrame } from "../../core/frame/ranges";
import { lookOn } from "../../core/look/camera";
import type { Database } from "../../store/database";
import { addStill, findStill, type ListedStill, listStills, removeStill, type Still } from "../../store/library";
import { findShot } from "../../store/queries";
import { notFound, Refusal } from "../errors/errors";
import { numberIn } from "../http/reply";
import { renderOrder } from "../render/order";
import { startThread } from "../render/thread";
import type { RenderOrder } from "../render/worker";
import { framesOfShot } from "../shots/shot";
import { Gate, type Deadline } from "../waiting/gate";
import { steadyNow } from "../waiting/clock";
import { discard, UNFINISHED } from "../storage/files";
import { dataRoot } from "../storage/roots";
import { fileNameOfStill, folderOfStill } from "./place";

/** A still that takes longer is given up, ms. */
const TAKES_AT_MOST_MS = 120_000;

/** Has an order of one frame made in a thread of its own. Throws Refusal that says what went wrong with it. */
async function run(order: RenderOrder): Promise<void> {
  const thread = startThread(order, { deadline: { grace: 2000, silence: TAKES_AT_MOST_MS } });
  let problem: string | null = null;
  try {
    await thread.ask({ kind: "make", frames: order.frames, made: [] }, (said) => {
      if (said.kind === "frame") problem = said.result.reason;
    });
  } catch (error) {
    problem = (error as Error).message;
  } finally {
    await thread.end();
  }
  if (problem !== null) throw new Refusal("unreadable", `The still was not made: ${problem as string}`);
}

/** Stills of all shots, the newest first. */
export const allStills = (db: Database): Promise<ListedStill[]> => listStills(db);

/** One after another: each takes all of the machine. */
const making = new Gate(1);

/**
 * Makes a still of a frame of a shot: its light as the path leaves it, half floats, on the disk. It is in the database
 * only when its picture is there. Throws Refusal, and Busy where others take too long.
 */
export async function keepStill(
  db: Database,
  { shotId, frame, look, note = "" }: StillOrder,
  deadline: Deadline = { until: steadyNow() + TAKES_AT_MOST_MS },
  madeBy: string | null = null,
): Promise<ListedStill> {
  const found = await findShot(db, shotId);
  if (!found) throw notFound(`The shot ${shotId}`);
  const { shot, footage } = found;
  if (!hasFrame(framesOfShot(footage, shot), frame)) throw notFound(`Frame ${frame} of ${shotId}`);
  const worn = lookOn(look as Parameters<typeof lookOn>[0], shot);
  const { width, height } = footage;
  const made = await making.enter(1, deadline);
  const folder = join(dataRoot(), "stills", `${randomUUID()}${UNFINISHED}`);
  try {
    await mkdir(folder, { recursive: true });
    const order = await renderOrder(db, found, {
      look: worn,
      frames: [[frame, frame]],
      output: join(folder, fileNameOfStill(shotId)),
      encoding: null,
      depth: "half",
      compression: "ZIP",
      frameRate: shot.frameRate,
    });
    await run(order);
    return await db.transaction(async (all) => {
      const still = await addStill(all, { shotId, frame, note, look: worn, width, height, madeBy });
      await rename(folder, folderOfStill(still.id));
      return still;
    });
  } catch (error) {
    await discard(folder);
    throw error;
  } finally {
    made();
  }
}

export async function stillNamed(db: Database, id: string): Promise<Still> {
  const still = await findStill(db, numberIn(id, "The still"));
  if (!still) throw notFound(`The still ${id}`);
  return still;
}

export async function removeStillNamed(db: Database, id: string): Promise<void> {
  const still = await stillNamed(db, id);
  await removeStill(db, still.id);
  await rm(folderOfStill(still.id), { recursive: true, force: true });
}
