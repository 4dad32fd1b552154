import { z } from "zod";
import { type Scope, without } from "@/core/look/excerpt";
import { carried } from "@/core/look/carry";
import { withElements } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import type { KeptLook } from "../looks/kept-look";

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

/** Where a wipe runs: a place on it, in shares of the frame, and how far it is turned from upright, degrees clockwise. */
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

/** What else a picture may be held against, by their ids. */
export interface Others {
  versions: readonly { id: number; name: string; number: number }[];
  looks: readonly { id: string; name: string; revision: number | null }[];
  /** The looks of other shots, with the shots' names. */
  shots: readonly { id: string; name: string; revision: number }[];
  stills: readonly { id: number; shotId: string; frame: number; note: string }[];
}

/** What is seen in the picture's place: a look, on the frame or (its number) on a still. */
export interface Against {
  look: Look;
  still?: number;
}

/** Where the look of a reference is kept; null where it is none that is, or is gone. `shotId`: the shot that is compared. */
export function keptLookOf(reference: Reference, shotId: string, { versions, looks, shots }: Others): KeptLook | null {
  switch (reference.kind) {
    case "version":
      return versions.some(({ id }) => id === reference.id) ? { in: "version", shotId, id: reference.id } : null;
    case "look": {
      const found = looks.find(({ id }) => id === reference.id);
      return found ? { in: "library", id: found.id, revision: found.revision } : null;
    }
    case "shot": {
      const found = shots.find(({ id }) => id === reference.id);
      return found ? { in: "shot", id: found.id, revision: found.revision } : null;
    }
    default:
      return null;
  }
}

const scopeOf = (selected: string | null): Scope => (selected === null ? "path" : "element");

/**
 * The look that a reference is, seen through the present view, so that glass is compared and not the way it is shown; null where it
 * is not there (any more). `kept`: the look it is by where that is kept.
 */
export function referenceLook(
  reference: Reference,
  look: Look,
  selected: string | null,
  others: Others,
  kept?: Look,
): Against | null {
  const seen = (other: Look): Against => ({ look: { ...other, view: look.view } });
  const bare = (): Look => {
    const { where: _, when: __, ...rest } = withElements(look, []);
    return rest;
  };
  switch (reference.kind) {
    case "element":
      return { look: without(look, scopeOf(selected), selected) };
    case "path":
      return { look: without(look, "path", null) };
    case "footage":
      return { look: { ...bare(), view: { ...look.view, kind: "plain", lut: undefined } } };
    case "version":
      return kept ? seen(kept) : null;
    case "look":
    case "shot":
      // Another look as this shot would wear it.
      return kept ? seen(carried(kept, look, "all", "instead")) : null;
    case "still":
      return others.stills.some(({ id }) => id === reference.id) ? { look: bare(), still: reference.id } : null;
  }
}

/** A reference in words, as it stands beside the picture. */
export function referenceName(reference: Reference, selected: string | null, others: Others): string {
  switch (reference.kind) {
    case "element":
      return selected === null ? "without the path" : "without this element";
    case "path":
      return "without the path";
    case "footage":
      return "the footage";
    case "version": {
      const found = others.versions.find(({ id }) => id === reference.id);
      return found ? `version ${found.number}, ${found.name}` : "a version that is gone";
    }
    case "look":
      return others.looks.find(({ id }) => id === reference.id)?.name ?? "a look that is gone";
    case "shot": {
      const found = others.shots.find(({ id }) => id === reference.id);
      return found ? `the look of ${found.name}` : "the look of a shot that is gone";
    }
    case "still": {
      const found = others.stills.find(({ id }) => id === reference.id);
      return found ? `the still of ${found.shotId}, frame ${found.frame}` : "a still that is gone";
    }
  }
}

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
