import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { toast } from "sonner";
import { api, Refused } from "../shared/api";
import { useWorkspace } from "../shared/workspace";
import type { ShotChange, ShotDetail } from "../../contract/shots";

/** Time without a further change after which one is sent, and before a failed one is sent again, ms. */
const SEND_AFTER = 300;
const RETRY_AFTER = 3000;

/** What of a shot the server has not taken yet. One sender a shot, whichever field the changes come from. */
interface Sender {
  waiting: ShotChange;
  timer: ReturnType<typeof setTimeout> | undefined;
  isSending: boolean;
  /** The last try failed, and is made again. */
  hasFailed: boolean;
}
const senders = new Map<string, Sender>();

const isEmpty = (change: ShotChange) => Object.keys(change).length === 0;
const senderOf = (id: string): Sender => {
  const known = senders.get(id);
  if (known) return known;
  const sender: Sender = { waiting: {}, timer: undefined, isSending: false, hasFailed: false };
  senders.set(id, sender);
  return sender;
};

/** Says in the head of the page whether anything is on its way, or did not arrive. */
function tell(): void {
  const all = [...senders.values()];
  const isUnderWay = all.some(({ waiting, isSending }) => isSending || !isEmpty(waiting));
  const savingShot = all.some(({ hasFailed }) => hasFailed) ? "failed" : isUnderWay ? "saving" : "saved";
  useWorkspace.getState().set({ savingShot });
}

/** Sends what waits, one change after another; a server that cannot be reached is asked again. */
async function send(client: QueryClient, id: string, leaving = false): Promise<void> {
  const sender = senderOf(id);
  clearTimeout(sender.timer);
  const change = sender.waiting;
  const shot = client.getQueryData<ShotDetail>(["shot", id]);
  // A page that is left cannot wait for the change before this one, which takes one revision.
  if ((sender.isSending && !leaving) || isEmpty(change) || !shot) return;
  const above = shot.revision + (sender.isSending ? 1 : 0);
  sender.waiting = {};
  sender.isSending = true;
  let again = 0;
  try {
    const { revisions } = await api.changeShots([{ id, revision: above }], change, leaving);
    const revision = revisions[id]!;
    client.setQueryData<ShotDetail>(["shot", id], (before) => before && { ...before, revision });
    void client.invalidateQueries({ queryKey: ["shots"] });
    sender.hasFailed = false;
  } catch (error) {
    const isRefused = error instanceof Refused && error.status < 500;
    sender.hasFailed = !isRefused;
    if (isRefused) {
      toast.error(error.message);
      await client.invalidateQueries({ queryKey: ["shot", id] });
    } else {
      sender.waiting = { ...change, ...sender.waiting };
      again = RETRY_AFTER;
    }
  }
  sender.isSending = false;
  if (!isEmpty(sender.waiting)) sender.timer = setTimeout(() => void send(client, id), again);
  tell();
}

/** Changes a shot from the Bench: shown at once, sent when the hand rests, or when the page is left. */
export function useShotChange(shot: ShotDetail): (change: ShotChange) => void {
  const client = useQueryClient();
  useEffect(() => {
    const leave = () => void send(client, shot.id, true);
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [client, shot.id]);
  return (change) => {
    const sender = senderOf(shot.id);
    sender.waiting = { ...sender.waiting, ...change };
    client.setQueryData<ShotDetail>(["shot", shot.id], (before) => before && ({ ...before, ...change } as ShotDetail));
    clearTimeout(sender.timer);
    sender.timer = setTimeout(() => void send(client, shot.id), SEND_AFTER);
    tell();
  };
}
