import { LUMINANCE_709 } from "../colour/primaries";
import { COLUMNS, LEVELS, PLANES, VECTORS } from "../compile/outputs/scopes";

/** What scopes count: how often levels and hues occur in a picture, or in a part of it. */

type Counts = Uint32Array<ArrayBuffer>;

/** Pixels by column and level (`column * LEVELS + level`), of each channel and of luma. */
export interface ScopeCounts {
  red: Counts;
  green: Counts;
  blue: Counts;
  luma: Counts;
  /**
   * `VECTORS` by `VECTORS` cells, rows from the top: blue to the right, red upwards; null where none were asked for.
   */
  vectors: Counts | null;
  /** Pixels that were counted. */
  pixels: number;
}

/** How far blue and red stand from luma (ITU-R BT.709) where they make half a signal, twice over. */
const BLUE_SPAN = 2 * (1 - LUMINANCE_709[2]);
const RED_SPAN = 2 * (1 - LUMINANCE_709[0]);

/** What was counted, taken apart. `bytes`: as the engine gives them. */
export function countsOf(bytes: Uint8Array): ScopeCounts {
  const row = (i: number) => {
    const from = i * COLUMNS * LEVELS * Uint32Array.BYTES_PER_ELEMENT;
    const size = COLUMNS * LEVELS * Uint32Array.BYTES_PER_ELEMENT;
    return from + size <= bytes.length ? new Uint32Array(bytes.slice(from, from + size).buffer) : null;
  };
  const [red, green, blue, luma] = [0, 1, 2, 3].map((i) => row(i)!) as [Counts, Counts, Counts, Counts];
  const vectors = row(PLANES.length)?.slice(0, VECTORS * VECTORS) ?? null;
  return { red, green, blue, luma, vectors, pixels: luma.reduce((sum, value) => sum + value, 0) };
}

/** A histogram: the columns of a waveform put together. */
export function histogramOf(counts: Uint32Array): Uint32Array {
  const out = new Uint32Array(LEVELS);
  for (let at = 0; at < counts.length; at++) out[at % LEVELS]! += counts[at]!;
  return out;
}

/** Where a colour of the display (R'G'B', 0 to 1) stands on a vectorscope: blue across and red upwards, -0.5 to 0.5. */
export function vectorOf(r: number, g: number, b: number): readonly [blue: number, red: number] {
  const luma = LUMINANCE_709[0] * r + LUMINANCE_709[1] * g + LUMINANCE_709[2] * b;
  return [(b - luma) / BLUE_SPAN, (r - luma) / RED_SPAN];
}

/** The colour that stands at a place of a vectorscope, at a luma. It may lie outside what a display shows. */
export function colourOfVector(luma: number, blue: number, red: number): [number, number, number] {
  const [r, b] = [luma + RED_SPAN * red, luma + BLUE_SPAN * blue];
  return [r, (luma - LUMINANCE_709[0] * r - LUMINANCE_709[2] * b) / LUMINANCE_709[1], b];
}
