import { toast } from "sonner";
import { lookNow } from "../shot/document";
import { viewNow } from "../view/store";
import { api } from "../shared/api";
import { queryClient } from "../shared/query-client";

/** Keeps the frame on the Bench with its look: its light as the path leaves it. */
export async function keepStill(shotId: string): Promise<void> {
  const { frame } = viewNow();
  const look = lookNow();
  if (!look) return;
  const telling = toast.loading(`Keeping a still of frame ${frame} …`);
  try {
    await api.keepStill({ shotId, frame, look });
    toast.success(`A still of frame ${frame} is kept`, { id: telling });
    await queryClient.invalidateQueries({ queryKey: ["stills"] });
  } catch (error) {
    toast.error((error as Error).message, { id: telling });
  }
}
