import { application } from "@/server/app/application";
import { notFound, Refusal } from "@/server/errors/errors";
import { respond } from "@/server/http/reply";
import { findOwnEncoding, removeEncoding, shotsIn } from "@/store/colour";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

/** One encoding whole, as its JSON file holds it. */
export const GET = (_: Request, { params }: Context) =>
  respond(async () => {
    const { id } = await params;
    const found = await findOwnEncoding((await application()).db, id);
    if (!found) throw notFound(`The encoding ${id}`);
    return found;
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    const used = await shotsIn(db, id);
    if (used.length)
      throw new Refusal(
        "conflict",
        `${used.length} ${used.length === 1 ? "shot uses" : "shots use"} this encoding; give ${used.length === 1 ? "it" : "them"} another first`,
      );
    await removeEncoding(db, id);
  });
