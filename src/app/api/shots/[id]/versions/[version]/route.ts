import { application } from "@/server/app/application";
import { z } from "zod";
import { notFound, readBody, respond } from "@/server/api/respond";
import { renameVersion } from "@/store/queries";

const body = z.object({ name: z.string().trim().min(1).max(120) }).strict();

export const PATCH = (request: Request, { params }: { params: Promise<{ id: string; version: string }> }) =>
  respond(async () => {
    const { id, version } = await params;
    const { db } = await application();
    const { name } = await readBody(request, body);
    const [renamed] = await renameVersion(db, id, Number(version) || 0, name);
    if (!renamed) throw notFound(`That version of ${id}`);
    return renamed;
  });
