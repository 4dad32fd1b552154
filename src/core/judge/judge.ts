import { edgeVisibility } from "../colour/vision";
import type { Cleaned } from "../image/clean";
import { floatsOf } from "../image/image";
import type { Output } from "../compile/outputs/outputs";
import type { LookAtFrame } from "../look/at-frame";
import { elementsOf } from "../look/edit";
import { contribution } from "../look/excerpt";
import type { Look } from "../look/look";
import { movedOnly } from "../look/moved";
import { areaDefinition } from "../where/registry";
import type { Where } from "../where/schema";
import { bandedShare } from "./banding";
import { changeWithin } from "./change";
import { type Clipping, newlyAtEnds } from "./clipping";
import type { OverscanMissing } from "./overscan";

/** Bits a channel that gradients are judged at. */
export const JUDGED_BITS = [8, 10] as const;

/** What is to be said of a picture that a look makes. */
export interface Judged {
  clipping: Clipping;
  /** What the frame's file held that is no light. */
  cleaned: Cleaned;
  /** The share of the picture in which gradients would be seen to step, by `JUDGED_BITS`. */
  banded: readonly number[];
  /** Areas of elements whose edges are seen: by the elements' ids, and how many times the threshold. */
  edges: readonly { element: string; visibility: number }[];
  /** What its geometry fetches beyond the frame where the file holds nothing; null where nothing is missing. */
  overscan: OverscanMissing | null;
}

/** Makes of a look what an output asks for, as bytes that stay. */
type Make = (look: Look, output: Output) => Promise<Uint8Array>;

/** Ramp of a blur by a Gaussian, standard deviations. */
const FEATHER_RAMP = 3;

/** The narrowest ramp of an area's parts. */
function narrowest({ areas, feather }: Where): number | null {
  const ramps = areas.flatMap((area) => areaDefinition(area).ramp?.(area) ?? []);
  return ramps.length ? Math.min(...ramps) + (FEATHER_RAMP * feather) / 100 : null;
}

/** Judges a look at a frame: its size as `make` makes it, px, and what was cleaned of it. */
export async function judge(
  look: Look,
  at: LookAtFrame,
  { width, height, cleaned }: { width: number; height: number; cleaned: Cleaned },
  make: Make,
): Promise<Omit<Judged, "overscan">> {
  const own = floatsOf(await make(look, { kind: "codes" }));
  const before = floatsOf(await make(movedOnly(look, at), { kind: "codes" }));
  const edges: { element: string; visibility: number }[] = [];
  for (const { id, where, isActive } of at.elements) {
    const ramp = isActive && where ? narrowest(where) : null;
    if (ramp === null || !elementsOf(look).some((element) => element.id === id)) continue;
    const { look: with_, reference } = contribution(look, [id]);
    const after = floatsOf(await make(with_, { kind: "light" }));
    const unchanged = floatsOf(await make(reference, { kind: "light" }));
    const matte = await make(look, { kind: "area", element: id, over: false });
    const visibility = edgeVisibility(changeWithin(after, unchanged, matte), ramp);
    if (visibility > 1) edges.push({ element: id, visibility });
  }
  return {
    clipping: newlyAtEnds(own, before).clipping,
    cleaned,
    banded: JUDGED_BITS.map((bits) => bandedShare(own, width, height, bits)),
    edges,
  };
}
