import type { PlanBuilder } from "../engine/plan";
import { CHANNELS, MIDDLES, packSpectrum, spectrumOf } from "./spectrum";

/** Nodes of an affine map are this far apart, px; any spacing is exact. */
const SPACING = 64;

export interface Affine {
  /** Size of what comes out; the input's unless given. */
  width?: number;
  height?: number;
  /**
   * Where (px of the input) the light at a place of the output comes from, for a channel: 1 is red, 0 green, -1 blue.
   * Affine in x and y.
   */
  sourceAt(x: number, y: number, channel: number): [number, number];
  /** What lies outside the input: black, or its mirror image. */
  black: boolean;
}

/** Samples of surround around the planes the warp reads, as assembly/planes.ts has it. */
const SURROUND = 8;

/**
 * Emits a picture's channels and alpha as planes of their own, with their surround, which the warp reads; returns their
 * buffer.
 */
export function planSplitChannels(builder: PlanBuilder, input: number, black: boolean): number {
  const { width, height } = builder.size(input);
  const planes = builder.buffer(width + 2 * SURROUND, height + 2 * SURROUND, 4 * Float32Array.BYTES_PER_ELEMENT);
  return builder.add("split", { source: input, out: planes, width, height, black });
}

/** Emits a bicubic resampling of a buffer by an affine map; returns the result's buffer. */
export function planResample(
  builder: PlanBuilder,
  input: number,
  { width: outWidth, height: outHeight, sourceAt: place, black }: Affine,
): number {
  const { width, height } = builder.size(input);
  const out = outWidth && outHeight ? builder.buffer(outWidth, outHeight) : builder.level(input);
  const to = builder.size(out);
  const [columns, rows] = [Math.ceil(to.width / SPACING) + 2, Math.ceil(to.height / SPACING) + 2];
  const map = new Float32Array(columns * rows * 8);
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const [red, green, blue] = MIDDLES.map((channel) => place(i * SPACING, j * SPACING, channel)) as [
        [number, number],
        [number, number],
        [number, number],
      ];
      map.set([red[0], green[0], blue[0], green[0], red[1], green[1], blue[1], green[1]], (j * columns + i) * 8);
    }
  const spectrum = builder.floats(packSpectrum(spectrumOf(CHANNELS)));
  return builder.add("warp", {
    planes: planSplitChannels(builder, input, black),
    out,
    width,
    height,
    outWidth: to.width,
    map: builder.table(map),
    columns,
    spacing: SPACING,
    black,
    spectrum,
  });
}
