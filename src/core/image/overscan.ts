/** Pixels that a frame's file holds around what is shown, on each side. */
export interface Overscan {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

interface Size {
  width: number;
  height: number;
}

/**
 * Frames are made smaller by whole numbers up to this one: overscan is as many whole cells of it, so that they stay in
 * line.
 */
const STEP = 8;
/** As much of it as is used, of the frame's own size on each side: no lens brings in more. */
const MAX_SHARE = 0.25;

export const isNone = ({ left, top, right, bottom }: Overscan): boolean => !left && !top && !right && !bottom;

export const isSame = (a: Overscan, b: Overscan): boolean =>
  a.left === b.left && a.top === b.top && a.right === b.right && a.bottom === b.bottom;

/** What of a data window beyond the display window is used, px; null where there is none. */
export function overscanOf(data: Overscan, display: Overscan): Overscan | null {
  const whole = wholeOverscan(data, display);
  if (!whole) return null;
  const most = (size: number) => Math.floor((MAX_SHARE * size) / STEP) * STEP;
  const [across, down] = [most(display.right - display.left + 1), most(display.bottom - display.top + 1)];
  const used = smallerOf(whole, { left: across, right: across, top: down, bottom: down });
  return isNone(used) ? null : used;
}

/** As much as there is of both on each side. */
export const smallerOf = (one: Overscan, other: Overscan): Overscan => ({
  left: Math.min(one.left, other.left),
  top: Math.min(one.top, other.top),
  right: Math.min(one.right, other.right),
  bottom: Math.min(one.bottom, other.bottom),
});

const upToStep = (beyond: number) => Math.ceil(beyond / STEP) * STEP;

/** Overscan in whole cells: what of them is not there is the mirror image of what is. */
export const inSteps = ({ left, top, right, bottom }: Overscan): Overscan => ({
  left: upToStep(left),
  top: upToStep(top),
  right: upToStep(right),
  bottom: upToStep(bottom),
});

/** All of a data window beyond the display window; null where there is none. */
export function wholeOverscan(data: Overscan, display: Overscan): Overscan | null {
  const overscan = {
    left: Math.max(0, display.left - data.left),
    top: Math.max(0, display.top - data.top),
    right: Math.max(0, data.right - display.right),
    bottom: Math.max(0, data.bottom - display.bottom),
  };
  return isNone(overscan) ? null : overscan;
}

/** A frame with its overscan. */
export const canvasOf = ({ width, height }: Size, { left, top, right, bottom }: Overscan): Size => ({
  width: width + left + right,
  height: height + top + bottom,
});

/** What is shown of a frame with overscan. */
export const shownOf = ({ width, height }: Size, { left, top, right, bottom }: Overscan): Size => ({
  width: width - left - right,
  height: height - top - bottom,
});

/** Overscan of a frame made `divide` times smaller. */
export const smallerOverscan = ({ left, top, right, bottom }: Overscan, divide: number): Overscan => ({
  left: left / divide,
  top: top / divide,
  right: right / divide,
  bottom: bottom / divide,
});

/** The place that a mirror on both ends of `length` shows at `i`. */
function mirrored(i: number, length: number): number {
  const within = ((i % (2 * length)) + 2 * length) % (2 * length);
  return within < length ? within : 2 * length - 1 - within;
}

export const NO_OVERSCAN: Overscan = { left: 0, top: 0, right: 0, bottom: 0 };

/**
 * Rows of `lanes` samples a pixel, brought from one overscan to another: what is beyond is cut off, what is not there
 * is the mirror image of what is. `size`: with the overscan it has.
 */
export function withOverscan<T extends Float32Array | Uint8Array | Uint16Array | Uint32Array>(
  data: T,
  size: Size,
  has: Overscan,
  wanted: Overscan,
  lanes: number,
): T {
  const out = canvasOf(shownOf(size, has), wanted);
  const made = new (data.constructor as new (length: number) => T)(out.width * out.height * lanes);
  const first = Math.max(0, wanted.left - has.left);
  const end = Math.min(out.width, first + size.width);
  for (let y = 0; y < out.height; y++) {
    const row = mirrored(y - wanted.top + has.top, size.height) * size.width;
    const from = row + first - wanted.left + has.left;
    made.set(data.subarray(from * lanes, (from + end - first) * lanes) as never, (y * out.width + first) * lanes);
    for (let x = 0; x < out.width; x++) {
      if (x >= first && x < end) continue;
      const at = (row + mirrored(x - wanted.left + has.left, size.width)) * lanes;
      for (let c = 0; c < lanes; c++) made[(y * out.width + x) * lanes + c] = data[at + c]!;
    }
  }
  return made;
}
