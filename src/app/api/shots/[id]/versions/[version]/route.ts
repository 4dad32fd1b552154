import { renameVersionBody, type Version } from "@/contract/versions";
import { application } from "@/server/app/application";
import { notFound, numberIn, readBody, Refusal, respond } from "@/server/http/reply";
import { removeVersionNamed } from "@/server/shots/remove";
import { findVersion, renameVersion } from "@/store/queries";

type Context = { params: Promise<{ id: string; version: string }> };

export const PATCH = (request: Request, { params }: Context) =>
  respond<Version>(async () => {
    const { id, version } = await params;
    const { db } = await application();
    const { name, revision } = await readBody(request, renameVersionBody);
    const number = numberIn(version, "The version");
    const renamed = await renameVersion(db, id, number, name, revision);
    if (renamed) return renamed;
    const standing = await findVersion(db, id, number);
    if (!standing) throw notFound(`That version of ${id}`);
    throw new Refusal(409, `The version was renamed in another window, to “${standing.name}”`, { version: standing });
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => {
    const { id, version } = await params;
    await removeVersionNamed((await application()).db, id, version);
  });
