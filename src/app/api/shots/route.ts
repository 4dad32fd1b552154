import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { type ShotsChanged, changeShotsBody, type Shot } from "@/contract/shots";
import { changeShots, toldShot } from "@/server/shots/shots";
import { listShots } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond<Shot[]>(async () => {
    const { db } = await application();
    return (await listShots(db)).map(toldShot);
  });

/** Changes several shots at once, all or none. */
export const PATCH = (request: Request) =>
  respond<ShotsChanged>(async () => {
    const { ids, change: wanted, revisions } = await readBody(request, changeShotsBody);
    return { revisions: await changeShots((await application()).db, ids, wanted, revisions) };
  });
