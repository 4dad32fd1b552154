import { z } from "zod";

/** What the picture is held against. */
const referenceSchema = z.discriminatedUnion("kind", [
  /** The look without the selected element; without the path where none is selected. */
  z.object({ kind: z.literal("element") }),
  z.object({ kind: z.literal("path") }),
  /** As it came in: no glass, and no view but the display's. */
  z.object({ kind: z.literal("footage") }),
  z.object({ kind: z.literal("version"), id: z.number() }),
  /** Another look of the library. */
  z.object({ kind: z.literal("look"), id: z.string() }),
  /** The look that another shot wears. */
  z.object({ kind: z.literal("shot"), id: z.string() }),
  /** A kept picture, of any shot. */
  z.object({ kind: z.literal("still"), id: z.number() }),
]);
export type Reference = z.infer<typeof referenceSchema>;

/** How the two are seen together, for as long as it is on; holding a key shows the reference alone. */
const WAYS = ["wipe", "side", "difference"] as const;
export type Way = (typeof WAYS)[number];

/**
 * Where a wipe runs: a place on it, in shares of the frame, and how far it is turned from upright, degrees clockwise.
 */
const lineSchema = z.object({ x: z.number(), y: z.number(), angle: z.number() });
export type WipeLine = z.infer<typeof lineSchema>;

export const DIFFERENCE_TIMES = [1, 2, 4, 8, 16, 32, 64] as const;

const compareSchema = z.object({
  reference: referenceSchema,
  way: z.enum(WAYS).nullable(),
  /** The way that was used last, which one key brings back. */
  last: z.enum(WAYS),
  line: lineSchema,
  /** How strongly a difference is shown. */
  times: z.number().min(1).max(64),
});
/** How a shot is compared. */
export type Compare = z.infer<typeof compareSchema>;

export const UPRIGHT: WipeLine = { x: 0.5, y: 0.5, angle: 0 };
export const UNCOMPARED: Compare = {
  reference: { kind: "path" },
  way: null,
  last: "wipe",
  line: UPRIGHT,
  times: 8,
};

/** A way switched on; or off where it is on. */
export const toggled = (compare: Compare, way: Way): Compare => ({
  ...compare,
  way: compare.way === way ? null : way,
  last: way,
});

const keyOf = (shotId: string) => `pale-halo compare ${shotId}`;

/** How a shot was compared last, kept in the browser; as at first where nothing readable is kept. */
export function rememberedCompare(shotId: string): Compare {
  try {
    const found = compareSchema.safeParse(JSON.parse(localStorage.getItem(keyOf(shotId)) ?? "null"));
    return found.success ? found.data : UNCOMPARED;
  } catch {
    return UNCOMPARED;
  }
}

/** Keeps how a shot is compared; a browser that keeps nothing forgets it. */
export function rememberCompare(shotId: string, compare: Compare): void {
  try {
    localStorage.setItem(keyOf(shotId), JSON.stringify(compare));
  } catch {
    // Private windows may refuse: it is as at first the next time.
  }
}
