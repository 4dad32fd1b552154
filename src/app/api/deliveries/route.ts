import { deliverySchema, keepDeliveryBody, type KeptDelivery } from "@/contract/deliveries";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { type DeliveryRow, keepDelivery, listDeliveries } from "@/store/deliveries";

export const dynamic = "force-dynamic";

/** A kept delivery; none where it is of a version of this program that had others. */
function told({ id, name, body }: DeliveryRow): KeptDelivery[] {
  const read = deliverySchema.safeParse(body);
  return read.success ? [{ id, name, delivery: read.data }] : [];
}

export const GET = () =>
  respond<KeptDelivery[]>(async () => (await listDeliveries((await application()).db)).flatMap(told));

/** Keeps a delivery under its name, in place of the one that had it. */
export const PUT = (request: Request) =>
  respond<KeptDelivery>(async () => {
    const { name, delivery } = await readBody(request, keepDeliveryBody);
    const row = await keepDelivery((await application()).db, name, delivery);
    return { id: row.id, name: row.name, delivery };
  });
