import { stopsOf } from "../../colour/grey";
import type { PlanBuilder } from "../../engine/plan";
import { addProgram } from "../../engine/pointwise";
import { viewOperations } from "../../view/view";
import { viewRecipe } from "../recipe";
import { type OutputDefinition, wholePath } from "./definition";

/** Levels of a scope, from the lowest to the highest; columns of a waveform across the picture. */
export const LEVELS = 256;
export const COLUMNS = 320;
/** Cells of a vectorscope, in each direction. */
export const VECTORS = 256;

/** What a level means: signal of the display (0 to 1), or stops of light from mid-grey. */
export const SCALES = { code: { from: 0, to: 1 }, stops: { from: -10, to: 8 } } as const;
export type ScopeScale = keyof typeof SCALES;

/** A part of the frame, in shares of it. */
export interface ScopeArea {
  x: number;
  y: number;
  width: number;
  height: number;
}
export const WHOLE_FRAME: ScopeArea = { x: 0, y: 0, width: 1, height: 1 };

/** The pixels of a part: first and last column and row, at least one of each. */
function bounds({ x, y, width, height }: ScopeArea, frameWidth: number, frameHeight: number) {
  const within = (share: number, size: number) => Math.min(size - 1, Math.max(0, Math.floor(share * size)));
  const [left, top] = [within(x, frameWidth), within(y, frameHeight)];
  return {
    left,
    top,
    right: Math.max(left + 1, Math.min(frameWidth, Math.ceil((x + width) * frameWidth))),
    bottom: Math.max(top + 1, Math.min(frameHeight, Math.ceil((y + height) * frameHeight))),
  };
}

/**
 * Levels of light by the upper half of a float's bits: a sign, eight of exponent, seven of mantissa (a hundredth of a
 * stop).
 */
const STOPS_BY_BITS = ((): Uint8Array => {
  const table = new Uint8Array(65536);
  const bits = new Uint32Array(1);
  const light = new Float32Array(bits.buffer);
  const { from, to } = SCALES.stops;
  for (let upper = 0; upper < 65536; upper++) {
    // The middle of what shares these bits.
    bits[0] = (upper << 16) | 0x8000;
    const stops = light[0]! > 0 ? stopsOf(light[0]!) : -Infinity;
    table[upper] = Math.min(LEVELS - 1, Math.max(0, Math.floor(((stops - from) / (to - from)) * LEVELS))) || 0;
  }
  return table;
})();

/**
 * Rows that are counted: red, green, blue and luma, each by column and level; then colour differences, where they are
 * asked for.
 */
export const PLANES = ["red", "green", "blue", "luma"] as const;

/** What is counted: on which scale, of which part, and whether colour differences are, too. */
export interface ScopeRequest {
  scale: ScopeScale;
  part: ScopeArea;
  /** Of a signal only: light has no colour differences. */
  vectors: boolean;
}

/**
 * Emits the counting of a picture (of a display's signal, or of working light where the scale is stops); returns the
 * counts' buffer.
 */
export function planCount(builder: PlanBuilder, image: number, { scale, part, vectors }: ScopeRequest): number {
  const { width, height } = builder.size(image);
  const rows = PLANES.length + (vectors ? 1 : 0);
  return builder.add("count", {
    source: image,
    out: builder.buffer(COLUMNS * LEVELS, rows, Uint32Array.BYTES_PER_ELEMENT),
    width,
    ...bounds(part, width, height),
    columns: COLUMNS,
    levels: LEVELS,
    vectors: VECTORS,
    stops: scale === "stops" ? builder.table(STOPS_BY_BITS) : null,
  });
}

/**
 * Counts of the picture as scopes show them (core/scopes/count takes them apart): of the look's view, or of working
 * light where the scale is stops.
 */
export interface ScopesOutput extends ScopeRequest {
  kind: "scopes";
}

export const scopes: OutputDefinition<ScopesOutput> = {
  reach: wholePath,
  isForScreen: true,
  append(builder, image, { scale, part, vectors }, { at, view }) {
    const { cabinet } = at.context;
    const request = { scale, part, vectors: vectors && scale === "code" };
    let counted = image;
    if (scale === "code") {
      counted = addProgram(builder, image, builder.buffer(), viewOperations(view, cabinet.tables));
      builder.step(`scope signal ${viewRecipe(view, cabinet)}`, counted);
    }
    builder.step(`count ${JSON.stringify(request)}`, planCount(builder, counted, request));
  },
};
