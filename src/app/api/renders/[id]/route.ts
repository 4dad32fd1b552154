import { renderChange } from "@/contract/farm";
import { application } from "@/server/app/application";
import { changeRender } from "@/server/farm/change";
import { readBody, respond } from "@/server/http/reply";
import { removeRenderNamed } from "@/server/removal/remove";

type Context = { params: Promise<{ id: string }> };

/** Pauses a render that waits or is made, goes on with it, or says when it is its turn. */
export const PATCH = (request: Request, { params }: Context) =>
  respond(async () => {
    const { db, queue } = await application();
    await changeRender(db, queue, (await params).id, await readBody(request, renderChange));
  });

/** Removes a render that has ended, and its files. */
export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => {
    await removeRenderNamed((await application()).db, (await params).id);
  });
