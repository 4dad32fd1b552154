import { application } from "@/server/app/application";
import { keepVersionBody, type ListedVersion } from "@/contract/versions";
import { notFound } from "@/server/errors/errors";
import { readBody, respond } from "@/server/http/reply";
import { askedBy } from "@/server/people/admission";
import { revisionsIn } from "@/server/cabinet/cabinet";
import { findShot } from "@/store/queries";
import { keepVersion } from "@/store/versions";

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<ListedVersion>(async () => {
    const { id } = await params;
    const { db } = await application();
    if (!(await findShot(db, id))) throw notFound(`The shot ${id}`);
    const { name, note, look } = await readBody(request, keepVersionBody);
    return keepVersion(db, id, name, look, note, await revisionsIn(db, look), askedBy(request));
  });
