import { application } from "@/server/app/application";
import { changeProductionBody, type ListedProduction } from "@/contract/productions";
import { readBody, respond } from "@/server/http/reply";
import { changeNamed, removeNamed } from "@/server/productions/productions";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

/** Names it anew, puts it away or takes it up again. */
export const PATCH = (request: Request, { params }: Context) =>
  respond<ListedProduction>(async () => {
    const change = await readBody(request, changeProductionBody);
    return changeNamed((await application()).db, (await params).id, change);
  });

/** Removes it with its shots; what was rendered of them stays. */
export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeNamed((await application()).db, (await params).id));
