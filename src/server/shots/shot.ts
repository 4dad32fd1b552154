import { between, clipped, firstOf, lastOf, type Ranges } from "../../core/frame/ranges";
import { join } from "node:path";
import { depthChannelOf } from "../../formats/exr/layers";
import type { Choice } from "../../formats/format";
import type { Footage, Shot } from "../../store/queries";
import { footageRoots, placeOf } from "../storage/named-roots";
import { dataRoot } from "../storage/roots";
import type { Source } from "../footage/source";
import { parseStored } from "../footage/sequence";

/** Where a shot's frames lie: under the data root, or in a folder of their own under a footage root. Throws Refusal. */
export const footagePattern = ({ folder, pattern }: Pick<Footage, "folder" | "pattern">) =>
  join(placeOf(folder, footageRoots(), dataRoot(), "HALO_FOOTAGE"), pattern);

export const choiceFor = (
  { depthChannel }: Pick<Shot, "depthChannel">,
  { part, layer }: Pick<Footage, "part" | "layer">,
): Choice => ({
  ...(part === null ? {} : { part }),
  ...(layer === null ? {} : { layer }),
  ...(depthChannel === null ? {} : { depthChannel }),
});

/** The footage of a shot by the frames it was taken in with: what was there then, whatever lies in its folder now. */
export function sourceOf(footage: Footage): Source {
  const pattern = parseStored(footagePattern(footage));
  return { pattern, frames: footage.frames };
}

/** Whether the footage says how far things are. */
export const hasDepth = (
  { channels }: Pick<Footage, "channels">,
  { depthChannel }: Pick<Shot, "depthChannel">,
): boolean =>
  depthChannelOf(
    channels.map((name) => ({ name })),
    depthChannel ?? undefined,
  ) !== undefined;

/** Frames of a shot between its in and its out; gaps count, unless they are refused. */
export function framesOfShot(
  { frames }: Pick<Footage, "frames">,
  { firstFrame, lastFrame, gaps }: Pick<Shot, "firstFrame" | "lastFrame" | "gaps">,
): Ranges {
  const first = Math.max(firstOf(frames), firstFrame ?? firstOf(frames));
  const last = Math.min(lastOf(frames), lastFrame ?? lastOf(frames));
  return gaps === "refuse" ? clipped(frames, first, last) : between(first, last);
}
