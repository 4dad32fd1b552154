import { application } from "@/server/app/application";
import { lookSchema } from "@/core/look/look";
import { notFound, readBody, respond } from "@/server/api/respond";
import { findShot, saveLook } from "@/store/queries";

export const PUT = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    if (!(await findShot(db, id))) throw notFound(`The shot ${id}`);
    await saveLook(db, id, await readBody(request, lookSchema));
  });
