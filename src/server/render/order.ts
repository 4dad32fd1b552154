import type { Database } from "../../store/database";
import type { CarriedOn, KeptShot, RenderSnapshot } from "../../store/schema/schema";
import type { Depth } from "../../core/image/image";
import type { Ranges } from "../../core/frame/ranges";
import type { Look } from "../../core/look/look";
import type { Beside } from "../../contract/renders";
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
  carried?: CarriedOn | null;
  slate?: string | null;
  besides?: Beside[];
  /** What it takes by name, where that was kept; else it is as it stands now. */
  snapshot?: RenderSnapshot | null;
}

const plateOrder = ({ name, shot, footage }: { name: string } & KeptShot): RenderOrder["plates"][number] => ({
  name,
  source: sourceOf(footage),
  frames: framesOfShot(footage, shot),
  choice: choiceFor(shot, footage),
  gaps: shot.gaps,
  encoding: shot.encoding,
});

/** All that the thread which renders must be told. */
export async function renderOrder(
  db: Database,
  standing: KeptShot,
  { look, frames, output, encoding, depth, compression, frameRate, carried, slate, besides, snapshot }: Making,
): Promise<RenderOrder> {
  const now = snapshot?.own && snapshot.plates ? null : await snapshotOf(db, look, standing, encoding);
  const { own, plates, ...kept } = { ...now, ...snapshot } as Required<RenderSnapshot>;
  const { shot, footage } = own;
  return {
    look,
    ...kept,
    plates: plates.map(plateOrder),
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
    slate: slate ?? undefined,
    besides,
    ...(carried ? { layers: carried.layers, overscan: carried.overscan === "keep" ? Infinity : 0 } : {}),
  };
}
