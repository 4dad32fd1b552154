import { lookSchema } from "@/core/look/look";
import type { SavedLook } from "./world";

/**
 * Looks that the server did not take yet are kept in the browser until it did, with the revision they were made from.
 */

const WINDOW = "pale-halo window";
const PREFIX = "pale-halo unsaved look";
const keyOf = (shotId: string, window: string) => `${PREFIX} ${shotId} ${window}`;

/**
 * This window's name: the same after it is loaded anew, another in every other window. A lock of that name says that it
 * is open.
 */
function ownWindow(): string {
  const stored = sessionStorage.getItem(WINDOW);
  const name = stored ?? crypto.randomUUID();
  if (!stored) sessionStorage.setItem(WINDOW, name);
  return name;
}

const lockOf = (window: string) => `pale-halo window ${window}`;

/**
 * Says, as long as the page is there, that this window is open: what it has not saved is not for another one to take
 * up.
 */
export function announceWindow(): void {
  void navigator.locks?.request(lockOf(ownWindow()), { ifAvailable: true }, (lock) => lock && new Promise(() => {}));
}

/** Runs what a browser that keeps nothing would fail at: the look is still in the page then, and is sent from there. */
function tried<T>(work: () => T): T | null {
  try {
    return work();
  } catch {
    return null;
  }
}

export const keepUnsaved = (shotId: string, unsaved: SavedLook): void =>
  void tried(() => localStorage.setItem(keyOf(shotId, ownWindow()), JSON.stringify(unsaved)));

export const forgetUnsaved = (shotId: string): void =>
  void tried(() => localStorage.removeItem(keyOf(shotId, ownWindow())));

function parsed(text: string | null): SavedLook | null {
  const stored = tried(() => JSON.parse(text ?? "null") as SavedLook | null);
  const look = stored && lookSchema.safeParse(stored.look);
  return look?.success && Number.isInteger(stored!.revision) ? { look: look.data, revision: stored!.revision } : null;
}

/**
 * What this window, or one that is open no more, could not save of a shot; null where all was. It becomes this window's
 * own.
 */
export async function unsavedOf(shotId: string): Promise<SavedLook | null> {
  const keys = tried(() => Object.keys(localStorage).filter((key) => key.startsWith(`${PREFIX} ${shotId} `))) ?? [];
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  const isOpen = (window: string) => window !== ownWindow() && held.some(({ name }) => name === lockOf(window));
  for (const key of keys) {
    if (isOpen(key.split(" ").at(-1)!)) continue;
    const found = parsed(localStorage.getItem(key));
    localStorage.removeItem(key);
    if (!found) continue;
    keepUnsaved(shotId, found);
    return found;
  }
  return null;
}
