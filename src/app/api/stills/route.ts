import { keepStillBody, type ListedStill } from "@/contract/stills";
import { application } from "@/server/app/application";
import { deadlineOf } from "@/server/waiting/gate";
import { readBody, respond } from "@/server/http/reply";
import { askedBy } from "@/server/people/admission";
import { keepStill } from "@/server/stills/keep";
import { listStills } from "@/store/library";

export const dynamic = "force-dynamic";

export const GET = () => respond<ListedStill[]>(async () => listStills((await application()).db));

/** Makes a still of a frame with a look. */
export const POST = (request: Request) =>
  respond<ListedStill>(async () => {
    const order = await readBody(request, keepStillBody);
    return keepStill((await application()).db, order, deadlineOf(request), askedBy(request));
  });
