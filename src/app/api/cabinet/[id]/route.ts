import { type CabinetEntry, changeProfileBody } from "@/contract/cabinet";
import { application } from "@/server/app/application";
import { changeInCabinet, removeFromCabinet } from "@/server/cabinet/cabinet";
import { readBody, respond } from "@/server/http/reply";

type Context = { params: Promise<{ id: string }> };

export const PUT = (request: Request, { params }: Context) =>
  respond<CabinetEntry>(async () => {
    const { id } = await params;
    const { profile, revision } = await readBody(request, changeProfileBody);
    return changeInCabinet((await application()).db, id, profile, revision);
  });

export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeFromCabinet((await application()).db, (await params).id));
