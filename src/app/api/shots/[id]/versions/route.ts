import { application } from "@/server/app/application";
import { keepVersionBody, type Version } from "@/contract/versions";
import { notFound, readBody, respond } from "@/server/http/reply";
import { findShot, keepVersion } from "@/store/queries";

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<Version>(async () => {
    const { id } = await params;
    const { db } = await application();
    if (!(await findShot(db, id))) throw notFound(`The shot ${id}`);
    const { name, note, look } = await readBody(request, keepVersionBody);
    return keepVersion(db, id, name, look, note);
  });
