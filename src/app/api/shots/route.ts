import { z } from "zod";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { changeShots, shotChangeSchema, toldShot } from "@/server/shots/shots";
import { listShots } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond(async () => {
    const { db, demo } = await application();
    return (await listShots(db)).map((found) => toldShot(found, demo));
  });

const change = z
  .object({
    ids: z.array(z.string().max(80)).min(1).max(500),
    change: shotChangeSchema,
    revisions: z.record(z.string().max(80), z.number().int().positive()).optional(),
  })
  .strict();

/** Changes several shots at once, all or none. */
export const PATCH = (request: Request) =>
  respond(async () => {
    const { ids, change: wanted, revisions } = await readBody(request, change);
    return { revisions: await changeShots((await application()).db, ids, wanted, revisions) };
  });
