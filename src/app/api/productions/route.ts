import { application } from "@/server/app/application";
import { type ListedProduction, makeProductionBody } from "@/contract/productions";
import { readBody, respond } from "@/server/http/reply";
import { makeProduction, productions } from "@/server/productions/productions";

export const dynamic = "force-dynamic";

export const GET = () => respond<ListedProduction[]>(async () => productions((await application()).db));

export const POST = (request: Request) =>
  respond<{ id: string; name: string }>(async () => {
    const { name } = await readBody(request, makeProductionBody);
    return makeProduction((await application()).db, name);
  });
