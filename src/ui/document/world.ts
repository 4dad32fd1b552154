import type { Look } from "@/core/look/look";
import type { CurrentLook } from "@/contract/looks";

/** A look as the server holds it, and the number of its last change. */
export interface SavedLook {
  look: Look;
  revision: number;
}

/** Another window saved a look of a shot. */
export interface SaveNotice {
  shotId: string;
  revision: number;
}

/**
 * Why a look was not saved: another window's stands there by now; the server refused it, in words; or it could not be
 * reached.
 */
export type SaveFailure =
  { code: "overtaken"; theirs: SavedLook } | { code: "refused"; why: string } | { code: "unreachable" };

/** What a hand does in one go; null between gestures. Equal ones are one step to undo. */
export type GestureId = object | null;

/** All that a document asks of what is around it, so that it can be tried without a browser or a server. */
export interface World {
  /** The look that a shot wears now. */
  fetch(shotId: string): Promise<SavedLook>;
  /** Saves a look above a revision; gives the new one, or why not. `leaving`: the request outlives the page. */
  save(shotId: string, saved: SavedLook, leaving: boolean): Promise<number | SaveFailure>;
  /** Puts looks on other shots, all or none. */
  putOnOthers(looks: readonly CurrentLook[]): Promise<boolean>;
  /** What could not be saved is kept where it outlives the page, until it is. */
  unsaved: {
    keep(shotId: string, saved: SavedLook): void;
    forget(shotId: string): void;
    /** What a window that is open no more could not save; it is this one's from now on. */
    take(shotId: string): Promise<SavedLook | null>;
  };
  /** Does something after so many ms; gives what takes that back. */
  after(ms: number, work: () => void): () => void;
  /** Tells other windows that a look was saved. */
  announce(notice: SaveNotice): void;
  gesture(): GestureId;
  /** Says something to the user. */
  say(words: string): void;
}
