/** Pixels at the ends of a display's scale that were not there before. */
export interface Clipping {
  /** Shares of the frame. */
  clipped: number;
  crushed: number;
}

/** Signal within half a code of eight bits of an end is at it. */
const HALF_CODE = 0.5 / 255;

/** 1 where a pixel is newly clipped, 2 where newly crushed, 0 elsewhere. */
export type Ends = Uint8Array<ArrayBuffer>;

/**
 * Which pixels a look has brought to an end of the scale: to the upper one by any of their channels, to the lower one
 * by all. Both pictures are signal of the display (0 to 1, RGBA), of one size.
 */
export function newlyAtEnds(picture: Float32Array, before: Float32Array): { ends: Ends; clipping: Clipping } {
  const pixels = picture.length / 4;
  const ends: Ends = new Uint8Array(pixels);
  let [clipped, crushed] = [0, 0];
  for (let i = 0; i < pixels; i++) {
    const at = 4 * i;
    const most = Math.max(picture[at]!, picture[at + 1]!, picture[at + 2]!);
    if (most >= 1 - HALF_CODE) {
      if (Math.max(before[at]!, before[at + 1]!, before[at + 2]!) < 1 - HALF_CODE) {
        ends[i] = 1;
        clipped++;
      }
    } else if (most <= HALF_CODE && Math.max(before[at]!, before[at + 1]!, before[at + 2]!) > HALF_CODE) {
      ends[i] = 2;
      crushed++;
    }
  }
  return { ends, clipping: { clipped: clipped / pixels, crushed: crushed / pixels } };
}

/** Marks of pixels at the ends, RGB; and how far the picture under them is dimmed. */
const CLIPPED = [255, 170, 60] as const;
const CRUSHED = [90, 150, 255] as const;
const DIMMED = 0.35;

/** The picture, dimmed and grey, with its newly clipped and crushed pixels marked; RGBA of eight bits. */
export function markedEnds(picture: Float32Array, ends: Ends): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(picture.length);
  for (let i = 0; i < ends.length; i++) {
    const at = 4 * i;
    const grey = 255 * DIMMED * Math.max(0, (picture[at]! + picture[at + 1]! + picture[at + 2]!) / 3);
    const [r, g, b] = ends[i] === 1 ? CLIPPED : ends[i] === 2 ? CRUSHED : [grey, grey, grey];
    out[at] = r;
    out[at + 1] = g;
    out[at + 2] = b;
    out[at + 3] = 255;
  }
  return out;
}
