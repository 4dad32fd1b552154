import { toPlain } from "@/core/colour/transform/plain";
import { application } from "@/server/app/application";
import { readTable } from "@/server/colour/own-encoding";
import { notFound, respond } from "@/server/http/reply";
import { removeTableNamed } from "@/server/shots/remove";
import { findTable } from "@/store/queries";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

/** A table as steps, for the engine in the browser. */
export const GET = (_: Request, { params }: Context) =>
  respond(async () => {
    const { id } = await params;
    const found = await findTable((await application()).db, id);
    if (!found) throw notFound(`The table ${id}`);
    return toPlain(readTable(found.file, found.text));
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeTableNamed((await application()).db, (await params).id));
