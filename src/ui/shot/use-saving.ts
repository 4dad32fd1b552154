import { useEffect } from "react";
import type { SaveNotice } from "../document/world";
import { LOOKS_CHANNEL } from "./notices";
import { useWorkspace } from "../shared/workspace";
import { lookDocument, useDocument } from "./document";
import type { ShotDetail } from "../../contract/shots";

/**
 * Ties the look on the Bench to its page: other windows, leaving it, the shot's camera, and what the head of the page
 * says.
 */
export function useSaving(shot: ShotDetail): void {
  const saving = useDocument((state) => state.saving);
  const problem = useDocument((state) => state.problem);
  const tell = useWorkspace((state) => state.set);
  useEffect(() => tell({ saving, problem }), [saving, problem, tell]);

  useEffect(() => {
    const channel = new BroadcastChannel(LOOKS_CHANNEL);
    channel.onmessage = ({ data }: MessageEvent<SaveNotice>) => void lookDocument.check(data);
    // A window of another browser is heard of when this one is looked at again.
    const seen = () => document.visibilityState === "visible" && void lookDocument.check();
    const leave = () => lookDocument.leave();
    document.addEventListener("visibilitychange", seen);
    window.addEventListener("pagehide", leave);
    return () => {
      channel.close();
      document.removeEventListener("visibilitychange", seen);
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [shot.id]);

  const { sensorWidth, sensorHeight, squeeze } = shot;
  useEffect(
    () => lookDocument.wear({ sensorWidth, sensorHeight, squeeze }, lookDocument.store.getState().depth),
    [sensorWidth, sensorHeight, squeeze],
  );
}
