import { toast } from "sonner";
import type { CurrentLook } from "@/contract/looks";
import { api } from "../shared/api";
import { queryClient } from "../shared/query-client";
import { LOOKS_CHANNEL, type SaveNotice } from "./notices";

/** The newest revision this window made of other shots' looks: what is put back goes above it. */
const revisions = new Map<string, number>();

/** Tells other windows, and lets what this one remembers of the shots be asked for anew. */
function tell(made: Record<string, number>): void {
  const channel = new BroadcastChannel(LOOKS_CHANNEL);
  for (const [shotId, revision] of Object.entries(made)) {
    revisions.set(shotId, revision);
    channel.postMessage({ shotId, revision } satisfies SaveNotice);
    queryClient.removeQueries({ queryKey: ["shot", shotId] });
  }
  channel.close();
  void queryClient.invalidateQueries({ queryKey: ["looks"] });
}

/** Puts looks on shots, all or none; what was not done is said. Gives whether it was. */
export async function putOnShots(all: readonly CurrentLook[]): Promise<boolean> {
  if (!all.length) return true;
  try {
    const above = all.map((entry) => ({
      ...entry,
      revision: Math.max(entry.revision, revisions.get(entry.shotId) ?? 0),
    }));
    tell((await api.putLooks(above)).revisions);
    return true;
  } catch (error) {
    toast.error((error as Error).message);
    return false;
  }
}
