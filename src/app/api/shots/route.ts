import { z } from "zod";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/api/respond";
import { changeShots, shotChangeSchema, toldShot } from "@/server/api/shots";
import { listShots } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond(async () => {
    const { db, demo } = await application();
    return (await listShots(db)).map((found) => toldShot(found, demo));
  });

/** Changes several shots at once, all or none. */
export const PATCH = (request: Request) =>
  respond(async () => {
    const { ids, change } = await readBody(
      request,
      z.object({ ids: z.array(z.string().max(80)).min(1).max(500), change: shotChangeSchema }).strict(),
    );
    await changeShots((await application()).db, ids, change);
  });
