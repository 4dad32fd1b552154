import { stopsOf } from "../colour/grey";
import { LUMINANCE } from "../colour/primaries";
import type { HighlightKey } from "../elements/definition";

/** Stops from mid-grey that are counted; what lies beyond is counted at the ends. */
export const FROM_STOPS = -10;
export const TO_STOPS = 16;
export const BINS_A_STOP = 4;
export const BIN_COUNT = (TO_STOPS - FROM_STOPS) * BINS_A_STOP;

/** Light as a key judges it; each channel by itself is judged as the brightest. */
const JUDGED: Record<HighlightKey["channel"], (r: number, g: number, b: number) => number> = {
  luminance: (r, g, b) => r * LUMINANCE[0]! + g * LUMINANCE[1]! + b * LUMINANCE[2]!,
  maximum: Math.max,
  each: Math.max,
  red: (r) => r,
  green: (_, g) => g,
  blue: (_, __, b) => b,
};

/** How many pixels of a frame (RGBA working light) lie in each quarter of a stop, as a key judges them. */
export function lightHistogram(data: Float32Array, channel: HighlightKey["channel"]): number[] {
  const judge = JUDGED[channel];
  const bins = new Array<number>(BIN_COUNT).fill(0);
  for (let i = 0; i < data.length; i += 4) {
    const light = judge(data[i]!, data[i + 1]!, data[i + 2]!);
    const stops = light > 0 ? stopsOf(light) : FROM_STOPS;
    const bin = Math.floor((stops - FROM_STOPS) * BINS_A_STOP);
    bins[Math.min(BIN_COUNT - 1, Math.max(0, bin))]!++;
  }
  return bins;
}

/** Stops in the middle of a bin. */
export const stopsOfBin = (bin: number): number => FROM_STOPS + (bin + 0.5) / BINS_A_STOP;
