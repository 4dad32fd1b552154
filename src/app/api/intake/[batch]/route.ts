import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { findingOf } from "@/server/intake/finding";
import { giveUp } from "@/server/intake/receive";
import { type TakenIn, type Finding, decisionsBody } from "@/contract/intake";
import { takeIn } from "@/server/intake/take-in";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ batch: string }> };
const location = async ({ params }: Context) => ({ kind: "batch" as const, id: (await params).batch });

export const GET = (_: Request, context: Context) => respond<Finding>(async () => findingOf(await location(context)));

export const POST = (request: Request, context: Context) =>
  respond<TakenIn>(async () =>
    takeIn(
      (await application()).db,
      await location(context),
      await readBody(request, decisionsBody),
      new URL(request.url).searchParams.get("production"),
    ),
  );

export const DELETE = (_: Request, { params }: Context) => respond(async () => giveUp((await params).batch));
