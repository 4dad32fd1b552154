import { type Scope, without } from "@/core/look/excerpt";
import { carried } from "@/core/look/carry";
import { withElements } from "@/core/look/edit";
import { withTaking } from "@/core/look/taking";
import type { Look } from "@/core/look/look";
import type { KeptLook } from "../looks/kept-look";
import type { Reference } from "../view/compare";

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

/**
 * Where the look of a reference is kept; null where it is none that is, or is gone. `shotId`: the shot that is
 * compared.
 */
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
 * The look that a reference is, seen through the present view, so that glass is compared and not the way it is shown;
 * null where it is not there (any more). `kept`: the look it is by where that is kept.
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
    const { where: _, when: __, ...rest } = withTaking(withElements(look, []), undefined);
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
