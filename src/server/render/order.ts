import type { Database } from "../../store/database";
import { findShot, type FoundShot } from "../../store/queries";
import type { RenderSnapshot } from "../../store/schema";
import type { Depth } from "../../core/image/image";
import type { Ranges } from "../../core/frame/ranges";
import { platesIn } from "../../core/look/glass";
import type { Look } from "../../core/look/look";
import { choiceFor, framesOfShot, sourceOf } from "../shots/shot";
import { snapshotOf } from "./snapshot";
import type { RenderOrder } from "./worker";

/** What is to be made of a shot. */
export interface Making {
  look: Look;
  frames: Ranges;
  /** A file, or a pattern with the number of the frame. */
  output: string;
  /** Name of the encoding written; null for the look's view, or working light in EXR. */
  encoding: string | null;
  depth: Depth;
  compression?: string | null;
  /** Frames a second. */
  frameRate: number;
  /** What it takes by name, where that was kept; else it is as it stands now. */
  snapshot?: RenderSnapshot | null;
}

/** Shots that a look lays over others; one that is gone is left out, and its frames fail by name. */
async function platesOf(db: Database, look: Look): Promise<RenderOrder["plates"]> {
  const names = [...new Set(platesIn(look))];
  const found = await Promise.all(names.map(async (name) => ({ name, found: await findShot(db, name) })));
  return found.flatMap(({ name, found }) => {
    if (!found) return [];
    const { shot, footage } = found;
    const frames = framesOfShot(footage, shot);
    const choice = choiceFor(shot, footage);
    return [{ name, source: sourceOf(footage), frames, choice, gaps: shot.gaps, encoding: shot.encoding }];
  });
}

/** All that the thread which renders must be told. */
export async function renderOrder(
  db: Database,
  { shot, footage }: Pick<FoundShot, "shot" | "footage">,
  { look, frames, output, encoding, depth, compression, frameRate, snapshot }: Making,
): Promise<RenderOrder> {
  return {
    look,
    ...(snapshot ?? (await snapshotOf(db, look, shot.encoding, encoding))),
    plates: await platesOf(db, look),
    frames,
    source: sourceOf(footage),
    shot: framesOfShot(footage, shot),
    choice: choiceFor(shot, footage),
    gaps: shot.gaps,
    output,
    outEncoding: encoding,
    depth,
    compression: compression ?? undefined,
    framesPerSecond: frameRate,
  };
}
