import { useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { toast } from "sonner";
import { api, type ShotChange, type ShotDetail } from "../shared/api";

/** Time without a further change after which one is sent, ms. */
const SEND_AFTER = 300;

/** Changes a shot from the Bench: shown at once, sent when the hand rests, one change after another. */
export function useShotChange(shot: ShotDetail): (change: ShotChange) => void {
  const client = useQueryClient();
  const key = ["shot", shot.id];
  const waiting = useRef<ShotChange>({});
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const turn = useRef<Promise<void>>(Promise.resolve());
  const send = async () => {
    const change = waiting.current;
    waiting.current = {};
    if (!Object.keys(change).length) return;
    const now = client.getQueryData<ShotDetail>(key) ?? shot;
    try {
      const { revisions } = await api.changeShots([now], change);
      const revision = revisions[shot.id]!;
      client.setQueryData<ShotDetail>(key, (before) => before && { ...before, revision });
    } catch (error) {
      toast.error((error as Error).message);
      await client.invalidateQueries({ queryKey: key });
    }
    void client.invalidateQueries({ queryKey: ["shots"] });
  };
  return (change) => {
    waiting.current = { ...waiting.current, ...change };
    client.setQueryData<ShotDetail>(key, (before) => before && ({ ...before, ...change } as ShotDetail));
    clearTimeout(timer.current);
    timer.current = setTimeout(() => (turn.current = turn.current.then(send)), SEND_AFTER);
  };
}
