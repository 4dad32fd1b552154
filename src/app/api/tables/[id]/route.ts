import { application } from "@/server/app/application";
import { plainTable } from "@/server/colour/read-table";
import { deadlineOf } from "@/server/waiting/gate";
import { respond } from "@/server/http/reply";
import { removeTableNamed } from "@/server/removal/remove";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

/** A table as steps, for the engine in the browser. */
export const GET = (request: Request, { params }: Context) =>
  respond(async () => {
    const json = await plainTable((await application()).db, (await params).id, deadlineOf(request));
    return new Response(json, { headers: { "content-type": "application/json", "content-length": `${json.length}` } });
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeTableNamed((await application()).db, (await params).id));
