/** How far beyond the frame a look's geometry fetches light: what footage has to hold so that nothing is made up. */
import type { Frame } from "../image/image";
import { canvasOf, type Overscan } from "../image/overscan";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import { movedOnly, moves } from "../look/moved";
import type { Cabinet } from "../profile/profiles";

export interface OverscanNeeded extends Overscan {
  /** It may be more: it reaches as far as is looked at. */
  isMore: boolean;
}

/** So much beyond the frame is looked at, on each side, as a share of it. */
const LOOKED_AT = 0.25;
/** Less than this is the rounding of resampling, px. */
const NOTHING = 0.02;
const NONE: OverscanNeeded = { left: 0, top: 0, right: 0, bottom: 0, isMore: false };

/** Computes a look over a frame with overscan: RGBA of what is shown. */
export type MakeShown = (look: Look, frame: Frame, overscan: Overscan) => Float32Array;

/** A frame with overscan whose light is its place along an axis, px from what is shown, above zero everywhere. */
function ramp(size: { width: number; height: number }, overscan: Overscan, axis: 0 | 1): Frame {
  const { width, height } = canvasOf(size, overscan);
  const data = new Float32Array(4 * width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      data.fill(axis ? y : x, i, i + 3);
      data[i + 3] = 1;
    }
  return { width, height, data };
}

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
 * Pixels on each side that a look needs at a frame. By computing it: a ramp of places is sent through all that moves the
 * picture, in one resampling or several. What spreads light takes in more than this, wherever there is any.
 */
export function overscanNeeded(
  look: Look,
  cabinet: Cabinet,
  at: { width: number; height: number; frame: number },
  make: MakeShown,
): OverscanNeeded {
  const { width, height } = at;
  const moved = movedOnly(look, lookAt(look, cabinet, at));
  if (!moves(lookAt(moved, cabinet, at))) return NONE;
  const [across, down] = [Math.ceil(width * LOOKED_AT), Math.ceil(height * LOOKED_AT)];
  const overscan = { left: across, top: down, right: across, bottom: down };
  const x = reachOf(make(moved, ramp(at, overscan, 0), overscan), across);
  const y = reachOf(make(moved, ramp(at, overscan, 1), overscan), down);
  const px = (value: number) => (value > NOTHING ? Math.ceil(value - NOTHING) : 0);
  const needed = {
    left: px(-x.least),
    top: px(-y.least),
    right: px(x.most - (width - 1)),
    bottom: px(y.most - (height - 1)),
  };
  // Places mirrored at the end of what is looked at come back.
  const isMore = Math.max(needed.left, needed.right) >= across - 2 || Math.max(needed.top, needed.bottom) >= down - 2;
  return { ...needed, isMore };
}
