import { LUMINANCE } from "../colour/primaries";

/** Light below this says nothing of a change. */
const MIN_LIGHT = 1e-4;

/**
 * By how much an element changed the light where its area is full, in stops: the mean over the pixels of its matte that
 * are more than `FULL`; 0 where there are none. `after`, `before`: working light; `matte`: RGBA of eight bits; all of
 * one size.
 */
export function changeWithin(after: Float32Array, before: Float32Array, matte: Uint8Array): number {
  let [sum, count] = [0, 0];
  for (let at = 0; at < after.length; at += 4) {
    if (matte[at]! < FULL) continue;
    const light = (of: Float32Array) =>
      LUMINANCE[0] * of[at]! + LUMINANCE[1] * of[at + 1]! + LUMINANCE[2] * of[at + 2]!;
    const [a, b] = [light(after), light(before)];
    if (a < MIN_LIGHT || b < MIN_LIGHT) continue;
    sum += Math.log2(a / b);
    count++;
  }
  return count ? sum / count : 0;
}
const FULL = 242;
