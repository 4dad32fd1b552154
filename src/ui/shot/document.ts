import { toast } from "sonner";
import { useStore } from "zustand";
import type { ShotCamera } from "@/core/look/camera";
import type { Look } from "@/core/look/look";
import { createDocument, type DocumentState } from "../document/document";
import { forgetUnsaved, keepUnsaved, unsavedOf } from "../document/unsaved";
import type { SavedLook, SaveFailure, World } from "../document/world";
import { LOOKS_CHANNEL } from "./notices";
import { putOnShots } from "./put-on-shots";
import { api, Refused } from "../shared/api";
import { currentGesture } from "./gestures";

/** Why the server did not take a look. */
function failureOf(error: Error): SaveFailure {
  if (!(error instanceof Refused)) return { code: "unreachable" };
  const theirs = error.more as Partial<SavedLook>;
  if (error.status === 409 && theirs.look) return { code: "overtaken", theirs: theirs as SavedLook };
  return { code: "refused", why: error.message };
}

const world: World = {
  fetch: (shotId) => api.currentLook(shotId),
  save: (shotId, { look, revision }, leaving) =>
    api.saveLook(shotId, look, revision, leaving).then(({ revision: saved }) => saved, failureOf),
  putOnOthers: putOnShots,
  unsaved: { keep: keepUnsaved, forget: forgetUnsaved, take: unsavedOf },
  after: (ms, work) => {
    const timer = setTimeout(work, ms);
    return () => clearTimeout(timer);
  },
  announce: (notice) => {
    const channel = new BroadcastChannel(LOOKS_CHANNEL);
    channel.postMessage(notice);
    channel.close();
  },
  gesture: currentGesture,
  say: (words) => void toast(words),
};

/** What of a look is the shot's that wears it. */
export const cameraOf = ({ sensorWidth, sensorHeight, squeeze }: Omit<ShotCamera, "depth">) => ({
  sensorWidth,
  sensorHeight,
  squeeze,
});

/** The look on the Bench: the one place that holds it. */
export const lookDocument = createDocument(world);

/** Changes the look as it stands when the edit is made. */
export const { commit, commitWithOthers, commitDepth, undo, redo } = lookDocument;

/**
 * For what takes its time: changes the look of the shot that is open now, once it is done; says so where the shot was
 * left meanwhile.
 */
export function commitLater(): (edit: (look: Look) => Look) => void {
  const { shotId } = lookDocument.store.getState();
  return (edit) => {
    if (!commit(edit, shotId)) toast("The shot was left before this was done: its look is as it was");
  };
}

export const useDocument = <T>(select: (state: DocumentState) => T): T => useStore(lookDocument.store, select);

/** Adds an element to the look as it stands; gives the element's id. */
export function add(put: (look: Look) => { look: Look; id: string }): string | null {
  let id: string | null = null;
  commit((look) => {
    const added = put(look);
    ({ id } = added);
    return added.look;
  });
  return id;
}

/** The look as it stands now, outside React. */
export const lookNow = () => lookDocument.store.getState().look;
