import { application } from "@/server/app/application";
import type { ListedRender } from "@/contract/renders";
import { readBody, respond } from "@/server/http/reply";
import { askedBy } from "@/server/people/admission";
import { addRender, checkedOrder } from "@/server/farm/add";
import { moviesOf } from "@/server/render/movies";
import { listRenders } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond<ListedRender[]>(async () =>
    Promise.all(
      (await listRenders((await application()).db)).map(async ({ summary, ...render }) => ({
        ...render,
        view: summary!.view,
        movies: await moviesOf(render),
      })),
    ),
  );

export const POST = (request: Request) =>
  respond(async () => {
    const { db, queue } = await application();
    return addRender(db, queue, { ...(await readBody(request, checkedOrder)), madeBy: askedBy(request) });
  });
