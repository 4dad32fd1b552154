import { workerChange } from "@/contract/farm";
import { application } from "@/server/app/application";
import { setDraining } from "@/server/farm/status";
import { readBody, respond } from "@/server/http/reply";

/** No more work for a worker, or work again. */
export const PATCH = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { isDraining } = await readBody(request, workerChange);
    const { db, queue } = await application();
    await setDraining(db, (await params).id, isDraining);
    queue.nudge();
  });
