import { application } from "@/server/app/application";
import { notFound } from "@/server/errors/errors";
import { numberIn, respond } from "@/server/http/reply";
import { removeDelivery } from "@/store/deliveries";

export const dynamic = "force-dynamic";

export const DELETE = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const removed = await removeDelivery((await application()).db, numberIn(id, "Delivery"));
    if (!removed.length) throw notFound(`The delivery ${id}`);
    return {};
  });
