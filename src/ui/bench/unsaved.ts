import { type Look, lookSchema } from "@/core/look/look";

/** A look as the server holds it, as far as this window knows, and the number of its last change. */
export interface Standing {
  look: Look;
  revision: number;
}

/** A look that the server did not take yet, and the one it was made from: kept in the browser until it did. */
export type Unsaved = Standing;

const keyOf = (shotId: string) => `pale-halo unsaved look ${shotId}`;

export function keepUnsaved(shotId: string, unsaved: Unsaved): void {
  try {
    localStorage.setItem(keyOf(shotId), JSON.stringify(unsaved));
  } catch {
    // A browser that keeps nothing: the look is still in the page, and is sent from there.
  }
}

export function forgetUnsaved(shotId: string): void {
  try {
    localStorage.removeItem(keyOf(shotId));
  } catch {
    // As above.
  }
}

/** What was kept of a shot, or null; what is no look is forgotten. */
export function unsavedOf(shotId: string): Unsaved | null {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(shotId)) ?? "null") as Unsaved | null;
    const look = kept && lookSchema.safeParse(kept.look);
    return look?.success && Number.isInteger(kept!.revision) ? { look: look.data, revision: kept!.revision } : null;
  } catch {
    return null;
  }
}
