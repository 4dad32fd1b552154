import { createStore, type StoreApi } from "zustand/vanilla";
import type { CurrentLook } from "@/contract/looks";
import type { DepthPlate } from "@/core/frame/depth-plate";
import { lookOn, type ShotCamera } from "@/core/look/camera";
import { type Look, lookSchema } from "@/core/look/look";
import type { GestureId, SavedLook, SaveFailure, SaveNotice, World } from "./world";

/** What a step put on other shots, and what they wore before. */
export interface OnOthers {
  before: readonly CurrentLook[];
  after: readonly CurrentLook[];
}

/** What undo leads back to: the look, the depth that is set on the Bench, and what the same step put on other shots. */
export interface HistoryStep {
  look: Look;
  depth: DepthPlate | null;
  others?: OnOthers;
}

export type Saving = "saved" | "saving" | "failed" | "conflict";

/** One shot's look as this window has it. */
export interface DocumentState {
  shotId: string | null;
  /** As the shot wears it: with the shot's own camera. Null until it is there. */
  look: Look | null;
  /** Other footage that holds the shot's distances. */
  depth: DepthPlate | null;
  past: readonly HistoryStep[];
  future: readonly HistoryStep[];
  /** What another window made of the look meanwhile: nothing is saved until the user has said which is to stand. */
  conflict: SavedLook | null;
  saving: Saving;
  /** Why the server did not save, in words. */
  problem: string | null;
}

/** Time after a change before it is sent, and before a failed save is tried again, ms. */
export const SAVE_AFTER = 350;
export const RETRY_AFTER = 3000;
const STEPS_KEPT = 200;

const CLOSED: DocumentState = {
  shotId: null,
  look: null,
  depth: null,
  past: [],
  future: [],
  conflict: null,
  saving: "saved",
  problem: null,
};

type Camera = Omit<ShotCamera, "depth">;

/** Whether two looks say the same, in whatever order they were written: the database keeps one of its own. */
const isSameLook = (a: Look, b: Look): boolean =>
  JSON.stringify(lookSchema.parse(a)) === JSON.stringify(lookSchema.parse(b));

/** The one place that holds a shot's look, its history and what of it is not saved yet. */
export interface LookDocument {
  store: StoreApi<DocumentState>;
  /**
   * Opens a shot's look: as the server holds it, or as a window that is open no more left it. False where another was
   * opened meanwhile.
   */
  open(shotId: string, camera: Camera, depth: DepthPlate | null): Promise<boolean>;
  /**
   * The only way to change the look: `edit` is given the look as it stands then. Changes within one gesture are one
   * step. `shotId`: of the shot that is meant, where the edit took its time. False, and nothing is changed, where
   * another is open by then.
   */
  commit(edit: (look: Look) => Look, shotId?: string | null): boolean;
  /** Changes the look in one step with what was put on other shots; false as above. */
  commitWithOthers(edit: (look: Look) => Look, others: OnOthers, shotId?: string | null): boolean;
  commitDepth(depth: DepthPlate | null): void;
  undo(): void;
  redo(): void;
  /** The shot's camera or depth were changed elsewhere: that is no step. */
  wear(camera: Camera, depth: DepthPlate | null): void;
  /**
   * Another window may have saved: the newer look is taken, or told of as a conflict where this window has changed its
   * own.
   */
  check(notice?: SaveNotice): Promise<void>;
  /** The user has said which of two looks is to stand. */
  settle(which: "mine" | "theirs"): void;
  /** Sends at once what is not saved yet, without waiting: the shot or the page is left. */
  leave(): void;
}

/** A shot while its look is open here: what the server holds of it, and what is on its way there. */
interface Session {
  readonly shotId: string;
  saved: SavedLook;
  sending: Promise<void> | null;
  /** What is to be sent last, once the shot is left. */
  last: Look | null;
  /** What this window had sent as it was left, which may arrive after it was opened again. */
  readonly left: Look | null;
}

export function createDocument(world: World): LookDocument {
  const store = createStore<DocumentState>(() => CLOSED);
  const { getState: get, setState: set } = store;
  let session: Session | null = null;
  let camera: Camera | null = null;
  let gesture: GestureId = null;
  let cancelTimer = () => {};
  /** Last saves of shots that were left, by shot: one that is opened again waits for its own. */
  const leaving = new Map<string, Promise<void>>();
  /** Raised with every opening, so that an earlier one that comes late is none. */
  let openings = 0;

  const worn = (look: Look, depth = get().depth): Look => lookOn(look, { ...camera!, depth });
  const isDirty = () => session !== null && get().look !== session.saved.look;

  /** Sends what is not saved, after a pause, and says how it stands. */
  const schedule = (ms: number, saving: Saving = "saving") => {
    cancelTimer();
    if (!session) return;
    if (get().conflict) return set({ saving: "conflict" });
    // Undone before it was sent: the server holds it already.
    if (!isDirty() && !session.sending) return set({ saving: "saved", problem: null });
    set({ saving });
    cancelTimer = world.after(ms, send);
  };

  /** One save after another: the newest is the last to arrive. */
  function send(): void {
    const own = session;
    const { look, conflict } = get();
    if (!own || own.sending || conflict || !look || !isDirty()) return;
    own.sending = save(own, look, false).then((failure) => {
      own.sending = null;
      if (own !== session) return;
      if (!failure) return schedule(0);
      world.unsaved.keep(own.shotId, { look: get().look ?? look, revision: own.saved.revision });
      if (failure.code === "overtaken") return overtakenBy(failure.theirs);
      schedule(RETRY_AFTER, "failed");
      set({ problem: failure.code === "refused" ? failure.why : null });
    });
  }

  async function save(own: Session, look: Look, leaving: boolean): Promise<SaveFailure | null> {
    const { revision } = own.saved;
    const result = await world.save(own.shotId, { look, revision }, leaving);
    if (typeof result !== "number") return result;
    own.saved = { look, revision: result };
    // What was changed since stays kept until it is saved itself: the page may be gone before.
    const newer = own.last ?? (own === session ? get().look : null);
    if (newer && newer !== look) world.unsaved.keep(own.shotId, { look: newer, revision: result });
    else world.unsaved.forget(own.shotId);
    world.announce({ shotId: own.shotId, revision: result });
    return null;
  }

  /** Another window's look stands on the server, unless it was heard of and answered already. */
  function overtakenBy(theirs: SavedLook): void {
    const own = session!;
    const look = worn(theirs.look);
    const now = get().look!;
    const isOwn = isSameLook(look, now) || (own.left !== null && isSameLook(look, own.left));
    if (isOwn) own.saved = { look: isSameLook(look, now) ? now : look, revision: theirs.revision };
    else if (theirs.revision > own.saved.revision) set({ conflict: theirs });
    schedule(0);
  }

  const withStep = (others?: OnOthers): readonly HistoryStep[] => {
    const { look, depth, past } = get();
    return look ? [...past, { look, depth, ...(others ? { others } : {}) }].slice(-STEPS_KEPT) : past;
  };

  const step = (next: { look: Look; depth?: DepthPlate | null }, others?: OnOthers) => {
    const now = others ? null : world.gesture();
    const goesOn = now !== null && now === gesture;
    set({ ...next, past: goesOn ? get().past : withStep(others), future: [] });
    gesture = now;
    schedule(SAVE_AFTER);
  };

  const jump = (from: "past" | "future") => {
    const { look, depth, past, future } = get();
    const to = from === "past" ? past.at(-1) : future[0];
    if (!to || !look) return;
    const { others } = to;
    const here: HistoryStep = { look, depth, ...(others ? { others } : {}) };
    if (others) void world.putOnOthers(from === "past" ? others.before : others.after);
    const steps =
      from === "past"
        ? { past: past.slice(0, -1), future: [here, ...future] }
        : { past: [...past, here], future: future.slice(1) };
    // The camera is the shot's, as it stands now; a look that has it already stays the same one.
    const own = worn(to.look, to.depth);
    set({ look: isEqual(own, to.look) ? to.look : own, depth: to.depth, ...steps });
    gesture = null;
    schedule(SAVE_AFTER);
  };

  /** What stands on the server is taken in place of what this window showed; undo leads back. */
  const take = (own: Session, theirs: SavedLook) => {
    const look = worn(theirs.look);
    set({ past: withStep(), future: [], look });
    own.saved = { look, revision: theirs.revision };
    gesture = null;
    schedule(0);
  };

  return {
    store,
    async open(shotId, own, depth) {
      const opening = ++openings;
      cancelTimer();
      session = null;
      gesture = null;
      camera = own;
      set({ ...CLOSED, shotId, depth });
      await leaving.get(shotId);
      const [stands, left] = await Promise.all([world.fetch(shotId), world.unsaved.take(shotId)]);
      if (opening !== openings) return false;
      const look = worn(stands.look);
      const saved = { look, revision: stands.revision };
      session = { shotId, saved, sending: null, last: null, left: left && worn(left.look) };
      const isNews = left !== null && !isSameLook(worn(left.look), look);
      const conflict = isNews && left.revision !== stands.revision ? saved : null;
      set({ look: isNews ? worn(left.look) : look, conflict });
      if (left && !isNews) world.unsaved.forget(shotId);
      if (isNews && !conflict) world.say("What could not be saved before is here again, and is being saved");
      schedule(SAVE_AFTER);
      return true;
    },
    commit(edit, shotId = get().shotId) {
      const { look } = get();
      if (!look || shotId !== get().shotId) return false;
      const next = edit(look);
      if (next !== look) step({ look: worn(next) });
      return true;
    },
    commitWithOthers(edit, others, shotId = get().shotId) {
      const { look } = get();
      if (!look || shotId !== get().shotId) return false;
      step({ look: worn(edit(look)) }, others);
      return true;
    },
    commitDepth(depth) {
      const { look } = get();
      if (look) step({ look: worn(look, depth), depth });
    },
    undo: () => jump("past"),
    redo: () => jump("future"),
    wear(own, depth) {
      const { look } = get();
      camera = own;
      if (!look) return set({ depth });
      const next = worn(look, depth);
      if (isEqual(next, look)) return set({ depth });
      // It is the shot's change, which has been saved with it.
      if (session?.saved.look === look) session.saved = { ...session.saved, look: next };
      set({ look: next, depth });
    },
    async check(notice) {
      const own = session;
      if (!own || (notice && (notice.shotId !== own.shotId || notice.revision <= own.saved.revision))) return;
      const theirs = await world.fetch(own.shotId).catch(() => null);
      if (!theirs || own !== session || own.sending || theirs.revision <= own.saved.revision) return;
      if (isDirty()) return overtakenBy(theirs);
      take(own, theirs);
      world.say("The look was changed in another window; it is shown as it is now");
    },
    settle(which) {
      const { conflict, look } = get();
      if (!conflict || !look || !session) return;
      world.unsaved.forget(session.shotId);
      set({ conflict: null });
      if (which === "theirs") return take(session, conflict);
      session.saved = { look: worn(conflict.look), revision: conflict.revision };
      schedule(0);
    },
    leave() {
      const own = session;
      const { look, conflict } = get();
      cancelTimer();
      if (!own || !look || (!isDirty() && !own.sending)) return;
      world.unsaved.keep(own.shotId, { look, revision: own.saved.revision });
      if (conflict) return;
      own.last = look;
      const last = async () => {
        if (look === own.saved.look) return world.unsaved.forget(own.shotId);
        const failure = await save(own, look, true);
        if (!failure && own === session) schedule(0);
      };
      const done = (own.sending ? own.sending.then(last) : last()).then(() => {
        own.last = null;
        leaving.delete(own.shotId);
      });
      leaving.set(own.shotId, done);
    },
  };
}

/** Whether two looks of one document are written alike. */
const isEqual = (a: Look, b: Look): boolean => JSON.stringify(a) === JSON.stringify(b);
