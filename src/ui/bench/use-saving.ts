import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import { toast } from "sonner";
import type { Look } from "@/core/look/look";
import { api, Refused } from "../shared/api";
import { useWorkspace } from "../shell/workspace";
import { LOOKS_CHANNEL, type SaveNotice } from "../looks/notices";
import { useBench } from "./store";
import { forgetUnsaved, keepUnsaved, type Standing } from "./unsaved";
import type { ShotDetail } from "../../contract/shots";

/** Time after a change before it is sent, and before a failed save is tried again, ms. */
const SAVE_AFTER = 350;
const RETRY_AFTER = 3000;

/**
 * Saves the look as it changes, one save after another, so that the newest is the last to arrive. A failed save is tried until it
 * succeeds, and what it holds stays in the browser meanwhile. A look that another window changed is not written over: where this
 * window has nothing of its own it takes the other's, else it is for the user to say.
 */
export function useSaving(shot: ShotDetail): void {
  const { look, conflict, set, takeOver } = useBench();
  const standing = useRef<Standing>({ look: shot.look, revision: shot.lookRevision });
  const sending = useRef<Promise<void> | null>(null);
  const client = useQueryClient();
  const tell = useWorkspace((state) => state.set);
  const channel = useRef<BroadcastChannel | null>(null);

  /** Notes what the server holds now. */
  const stands = useCallback(
    (now: Standing) => {
      standing.current = now;
      client.setQueryData<ShotDetail>(
        ["shot", shot.id],
        (before) => before && { ...before, look: now.look, lookRevision: now.revision },
      );
    },
    [client, shot.id],
  );

  useEffect(() => {
    const open = new BroadcastChannel(LOOKS_CHANNEL);
    channel.current = open;
    const refetch = () => void client.invalidateQueries({ queryKey: ["shot", shot.id] });
    open.onmessage = ({ data }: MessageEvent<SaveNotice>) => {
      if (data.shotId === shot.id && data.revision > standing.current.revision) refetch();
    };
    // A window of another browser is heard of when this one is looked at again.
    const seen = () => document.visibilityState === "visible" && refetch();
    document.addEventListener("visibilitychange", seen);
    return () => {
      open.close();
      document.removeEventListener("visibilitychange", seen);
    };
  }, [client, shot.id]);

  // Another window's change has come in.
  useEffect(() => {
    if (shot.lookRevision <= standing.current.revision) return;
    const theirs = { look: shot.look, revision: shot.lookRevision };
    if (useBench.getState().look !== standing.current.look) return set({ conflict: theirs });
    standing.current = theirs;
    takeOver(theirs.look);
    toast("The look was changed in another window; it is shown as it is now");
  }, [shot.look, shot.lookRevision, set, takeOver]);

  // The user has said which look is to stand; the other one is a version.
  const resolved = useBench((state) => state.resolved);
  useEffect(() => {
    if (resolved) stands(resolved);
  }, [resolved, stands]);

  useEffect(() => {
    if (!look) return;
    if (conflict) return tell({ saving: "conflict" });
    // Undone before it was sent: the server holds it already.
    if (look === standing.current.look && !sending.current) return tell({ saving: "saved" });
    tell({ saving: "saving" });
    let isLatest = true;
    let timer: ReturnType<typeof setTimeout>;
    const save = async () => {
      while (sending.current) await sending.current;
      if (!isLatest) return;
      const { revision } = standing.current;
      const sent = api.saveLook(shot.id, look, revision).then(
        (saved) => {
          stands({ look, revision: saved.revision });
          forgetUnsaved(shot.id);
          channel.current?.postMessage({ shotId: shot.id, revision: saved.revision } satisfies SaveNotice);
          if (isLatest) tell({ saving: "saved" });
        },
        (error: Error) => {
          keepUnsaved(shot.id, { look: useBench.getState().look ?? look, revision });
          if (error instanceof Refused && error.status === 409) {
            // Said already, by the other window itself, and maybe answered since.
            const theirs = error.more as unknown as Standing;
            if (theirs.revision > standing.current.revision) set({ conflict: theirs });
            return;
          }
          if (!isLatest) return;
          tell({ saving: "failed", problem: error instanceof Refused ? error.message : null });
          timer = setTimeout(() => void save(), RETRY_AFTER);
        },
      );
      sending.current = sent.finally(() => (sending.current = null));
    };
    timer = setTimeout(() => void save(), SAVE_AFTER);
    return () => {
      isLatest = false;
      clearTimeout(timer);
    };
  }, [look, conflict, shot.id, set, stands, tell]);

  // Leaving the shot or the page does not wait for the pause: what is not yet sent is sent at once, and kept until it is taken.
  useEffect(() => {
    const send = () => {
      const { look: last } = useBench.getState();
      if (!last || (last === standing.current.look && !sending.current)) return;
      const { revision } = standing.current;
      keepUnsaved(shot.id, { look: last, revision });
      if (sending.current) return void sending.current.then(() => leave(last));
      leave(last);
    };
    const leave = (last: Look) => {
      if (last === standing.current.look) return forgetUnsaved(shot.id);
      const { revision } = standing.current;
      stands({ look: last, revision });
      void api.saveLook(shot.id, last, revision, true).then(
        (saved) => {
          forgetUnsaved(shot.id);
          stands({ look: last, revision: saved.revision });
          tell({ saving: "saved" });
        },
        () => {},
      );
    };
    window.addEventListener("pagehide", send);
    return () => {
      window.removeEventListener("pagehide", send);
      send();
    };
  }, [shot.id, stands, tell]);
}
