import { queueDeliveryBody } from "@/contract/deliveries";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { askedBy } from "@/server/people/admission";
import { addDelivery } from "@/server/farm/add";

export const dynamic = "force-dynamic";

/** Queues shots and versions in every format of a delivery: all of it or, where a part cannot be made, none. */
export const POST = (request: Request) =>
  respond(async () => {
    const { db, queue } = await application();
    const wanted = await readBody(request, queueDeliveryBody);
    return { ids: await addDelivery(db, queue, wanted, askedBy(request)) };
  });
