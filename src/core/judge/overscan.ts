/** How far beyond the frame a look's geometry fetches light: what footage has to hold so that nothing is made up. */
import type { Overscan } from "../image/overscan";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import { movedOnly, moves } from "../look/moved";
import type { Cabinet } from "../profile/profiles";
import { lookedAt, type MakeShown, ramp } from "./places";

export interface OverscanNeeded extends Overscan {
  /** It may be more: it reaches as far as is looked at. */
  isMore: boolean;
}

/** What a look needs beyond the frame on its neediest side, and what the frame's file holds there. */
export interface OverscanMissing {
  /** px of the full frame, and as a share of its width. */
  needed: number;
  share: number;
  isMore: boolean;
  held: number;
}

/** Less than this is the rounding of resampling, px. */
const NOTHING = 0.02;
const NONE: OverscanNeeded = { left: 0, top: 0, right: 0, bottom: 0, isMore: false };

/** Least and most place along an axis that any colour of what is shown comes from, px from the frame's first pixel. */
function reachOf(shown: Float32Array, before: number): { least: number; most: number } {
  let [least, most] = [Infinity, -Infinity];
  for (let i = 0; i < shown.length; i += 4)
    for (let c = 0; c < 3; c++) {
      const place = shown[i + c]! - before;
      if (place < least) least = place;
      if (place > most) most = place;
    }
  return { least, most };
}

/**
 * How far beyond each side a look's geometry fetches at a frame, px, not rounded. By computing it: a ramp of places is
 * sent through all that moves the picture, in one resampling or several. What spreads light takes in more than this,
 * wherever there is any.
 */
function reachBeyond(
  look: Look,
  cabinet: Cabinet,
  at: { width: number; height: number; frame: number },
  make: MakeShown,
): OverscanNeeded {
  const { width, height } = at;
  const moved = movedOnly(look, lookAt(look, cabinet, at));
  if (!moves(lookAt(moved, cabinet, at))) return NONE;
  const overscan = lookedAt(at);
  const { left: across, top: down } = overscan;
  const x = reachOf(make(moved, ramp(at, overscan, 0), overscan), across);
  const y = reachOf(make(moved, ramp(at, overscan, 1), overscan), down);
  const needed = {
    left: -x.least,
    top: -y.least,
    right: x.most - (width - 1),
    bottom: y.most - (height - 1),
  };
  // Places mirrored at the end of what is looked at come back.
  const isMore = Math.max(needed.left, needed.right) >= across - 2 || Math.max(needed.top, needed.bottom) >= down - 2;
  return { ...needed, isMore };
}

/** Pixels on each side that a look needs at a frame (reachBeyond), whole ones. */
export function overscanNeeded(...of: Parameters<typeof reachBeyond>): OverscanNeeded {
  const { left, top, right, bottom, isMore } = reachBeyond(...of);
  const px = (value: number) => (value > NOTHING ? Math.ceil(value - NOTHING) : 0);
  return { left: px(left), top: px(top), right: px(right), bottom: px(bottom), isMore };
}

/** What a look needs beyond a frame is measured on one so wide, px: places are fractions of a pixel all the same. */
const MEASURED_WIDTH = 480;
/** Less than this share of the frame's width is not worth a word. */
const WORTH_SAYING = 0.002;

/**
 * What a look needs beyond a frame that its file does not hold, on the side where most is missing; null where nothing
 * worth a word is. `held`: what the file holds, px of the full frame.
 */
export function overscanMissing(
  look: Look,
  cabinet: Cabinet,
  full: { width: number; height: number; frame: number },
  held: Overscan,
  make: MakeShown,
): OverscanMissing | null {
  const factor = full.width / MEASURED_WIDTH;
  const size = { width: MEASURED_WIDTH, height: Math.max(1, Math.round(full.height / factor)) };
  const reach = reachBeyond(look, cabinet, { ...full, ...size }, make);
  const sides = (["left", "top", "right", "bottom"] as const).map((side) => ({
    needed: Math.max(0, reach[side] * factor),
    held: held[side],
  }));
  const worst = sides.reduce((a, b) => (b.needed - b.held > a.needed - a.held ? b : a));
  if (worst.needed - worst.held < WORTH_SAYING * full.width) return null;
  const needed = Math.ceil(worst.needed);
  return { needed, share: needed / full.width, isMore: reach.isMore, held: worst.held };
}
