import { changeVersionBody, type ListedVersion, type Version } from "@/contract/versions";
import { application } from "@/server/app/application";
import { asKept } from "@/server/cabinet/cabinet";
import { notFound, Refusal } from "@/server/errors/errors";
import { numberIn, readBody, respond } from "@/server/http/reply";
import { removeVersionNamed } from "@/server/removal/remove";
import { changeVersion, findVersion } from "@/store/versions";

type Context = { params: Promise<{ id: string; version: string }> };

/** A version with its look, and the glass it was kept with. */
export const GET = (_: Request, { params }: Context) =>
  respond<Version>(async () => {
    const { id, version } = await params;
    const { db } = await application();
    const found = await findVersion(db, id, numberIn(version, "The version"));
    if (!found) throw notFound(`That version of ${id}`);
    const { summary: _, body, ...listed } = found;
    return { ...listed, body: await asKept(db, body, listed.glass) };
  });

export const PATCH = (request: Request, { params }: Context) =>
  respond<ListedVersion>(async () => {
    const { id, version } = await params;
    const { db } = await application();
    const { revision, ...change } = await readBody(request, changeVersionBody);
    const number = numberIn(version, "The version");
    const changed = await changeVersion(db, id, number, change, revision);
    if (changed) return changed;
    const standing = await findVersion(db, id, number);
    if (!standing) throw notFound(`That version of ${id}`);
    throw new Refusal("conflict", `The version was changed in another window; it is “${standing.name}” now`, {
      version: standing,
    });
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => {
    const { id, version } = await params;
    await removeVersionNamed((await application()).db, id, version);
  });
