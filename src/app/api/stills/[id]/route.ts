import { type ListedStill, noteStillBody, type Still } from "@/contract/stills";
import { application } from "@/server/app/application";
import { notFound } from "@/server/errors/errors";
import { numberIn, readBody, replyWith, respond } from "@/server/http/reply";
import { removeStillNamed, stillNamed } from "@/server/stills/keep";
import { findStillText, noteStill } from "@/store/library";

type Context = { params: Promise<{ id: string }> };

/** A still with the look that made it. */
export const GET = (_: Request, { params }: Context) =>
  respond<Still>(async () => {
    const { id } = await params;
    const found = await findStillText((await application()).db, numberIn(id, "The still"));
    if (!found) throw notFound(`The still ${id}`);
    const { text, ...listed } = found;
    return replyWith(listed, "look", text);
  });

export const PATCH = (request: Request, { params }: Context) =>
  respond<ListedStill>(async () => {
    const { db } = await application();
    const { id } = await stillNamed(db, (await params).id);
    const { note } = await readBody(request, noteStillBody);
    return (await noteStill(db, id, note))!;
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeStillNamed((await application()).db, (await params).id));
