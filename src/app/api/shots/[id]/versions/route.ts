import { application } from "@/server/app/application";
import { z } from "zod";
import { lookSchema } from "@/core/look/look";
import { notFound, readBody, respond } from "@/server/http/reply";
import { findShot, keepVersion } from "@/store/queries";

const body = z.object({ name: z.string().trim().min(1).max(120).optional(), look: lookSchema }).strict();

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    if (!(await findShot(db, id))) throw notFound(`The shot ${id}`);
    const { name, look } = await readBody(request, body);
    return keepVersion(db, id, name, look);
  });
