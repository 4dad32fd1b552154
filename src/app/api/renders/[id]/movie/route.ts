import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { keepMovie, movieFile } from "@/server/render/movies";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };
const kindOf = (request: Request) => new URL(request.url).searchParams.get("kind");

export const GET = (request: Request, { params }: Context) =>
  respond(async () => movieFile((await application()).db, (await params).id, kindOf(request)));

export const PUT = (request: Request, { params }: Context) =>
  respond(async () => {
    const length = Number(request.headers.get("content-length") ?? 0);
    return keepMovie((await application()).db, (await params).id, kindOf(request), request.body, length);
  });
