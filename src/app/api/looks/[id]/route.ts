import { changeLookBody, type LibraryLook } from "@/contract/looks";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { changeLook, libraryLook, removeLook } from "@/server/looks/library";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context) =>
  respond<LibraryLook>(async () => libraryLook((await application()).db, (await params).id));

export const PUT = (request: Request, { params }: Context) =>
  respond<LibraryLook>(async () => {
    const { id } = await params;
    const { look, revision } = await readBody(request, changeLookBody);
    return changeLook((await application()).db, id, look, revision);
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeLook((await application()).db, (await params).id));
