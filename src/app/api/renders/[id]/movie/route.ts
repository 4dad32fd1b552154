import { application } from "@/server/app/application";
import { respond } from "@/server/api/respond";
import { keepMovie, movieFile } from "@/server/render/deliver";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };
const kindOf = (request: Request) => new URL(request.url).searchParams.get("kind");

export const GET = (request: Request, { params }: Context) =>
  respond(async () => movieFile((await application()).db, (await params).id, kindOf(request)));

export const PUT = (request: Request, { params }: Context) =>
  respond(async () => keepMovie((await application()).db, (await params).id, kindOf(request), request.body));
