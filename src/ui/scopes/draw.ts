import { COLUMNS, LEVELS, VECTORS } from "@/core/compile/outputs/scopes";
import { colourOfVector, histogramOf, type ScopeCounts } from "@/core/scopes/count";

/**
 * Drawing counts as traces: brightness follows how often something occurs, so that thin lines are seen beside broad
 * areas.
 */

type Rgb = readonly [number, number, number];
export const TRACE = {
  red: [255, 120, 100],
  green: [120, 225, 130],
  blue: [120, 160, 255],
  luma: [225, 225, 225],
} as const satisfies Record<string, Rgb>;

/** A cell that holds this share of its column (of the picture, for colour differences) is drawn at full brightness. */
const FULL_SHARE = 0.1;
const FULL_VECTORS = 0.004;
const POWER = 0.5;
/** How strongly what the picture is compared with is drawn. */
export const FAINT = 0.4;

const brightness = (count: number, full: number) => (count ? Math.min(1, (count / full) ** POWER) : 0);

/** Adds a trace into an image, held at white. */
function add(image: ImageData, at: number, colour: Rgb, strength: number): void {
  for (let c = 0; c < 3; c++) image.data[at + c] = Math.min(255, image.data[at + c]! + colour[c]! * strength);
}

/** An opaque black image. */
export function blank(width: number, height: number): ImageData {
  const image = new ImageData(width, height);
  for (let i = 3; i < image.data.length; i += 4) image.data[i] = 255;
  return image;
}

/** Draws a waveform into a part of an image, `columns` wide from `left`: level upwards, place across. */
export function drawWaveform(
  image: ImageData,
  counts: Uint32Array,
  pixels: number,
  colour: Rgb,
  { left, columns, strength }: { left: number; columns: number; strength: number },
): void {
  const full = (FULL_SHARE * pixels) / COLUMNS;
  const each = COLUMNS / columns;
  for (let x = 0; x < columns; x++)
    for (let level = 0; level < LEVELS; level++) {
      let count = 0;
      for (let k = Math.floor(x * each); k < Math.floor((x + 1) * each); k++) count += counts[k * LEVELS + level]!;
      if (count)
        add(
          image,
          ((LEVELS - 1 - level) * image.width + left + x) * 4,
          colour,
          strength * brightness(count, full * each),
        );
    }
}

/**
 * How bright a trace of colour differences is, and the least of each channel in it, so that every hue is seen on black.
 */
const TRACE_LUMA = 0.55;
const TRACE_DARKEST = 0.15;

/** Draws colour differences into an image of `VECTORS` by `VECTORS` pixels. */
export function drawVectors(image: ImageData, vectors: Uint32Array, pixels: number, strength: number): void {
  const full = FULL_VECTORS * pixels;
  for (let i = 0; i < VECTORS * VECTORS; i++)
    if (vectors[i]) {
      // Its own colour, at a middle brightness: where a trace lies says which hue it is, and its colour says so again.
      const [blue, red] = [(i % VECTORS) / VECTORS - 0.5, 0.5 - Math.floor(i / VECTORS) / VECTORS];
      const colour = colourOfVector(TRACE_LUMA, blue, red).map(
        (value) => 255 * Math.min(1, Math.max(TRACE_DARKEST, value)),
      ) as unknown as Rgb;
      add(image, i * 4, colour, strength * brightness(vectors[i]!, full));
    }
}

/** The heights of a histogram's bars, 0 to 1, by the square root: what is rare is still seen. */
export function heightsOf(counts: Uint32Array, of: Uint32Array = counts): number[] {
  const most = Math.max(1, ...histogramOf(of).slice(1, -1));
  return [...histogramOf(counts)].map((count) => Math.min(1, Math.sqrt(count / most)));
}

/** The share of a picture's pixels at a scale's two ends, of the channel that has most there. */
export function atEnds({ red, green, blue, pixels }: ScopeCounts): { low: number; high: number } {
  const ends = [red, green, blue].map(histogramOf);
  const share = (level: number) => Math.max(...ends.map((of) => of[level]!)) / Math.max(1, pixels);
  return { low: share(0), high: share(LEVELS - 1) };
}
