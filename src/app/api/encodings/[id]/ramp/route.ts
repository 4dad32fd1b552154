import type { GreyRamp } from "@/contract/encodings";
import { application } from "@/server/app/application";
import { encodingNamed } from "@/server/colour/library";
import { readers } from "@/server/readers/pool";
import { deadlineOf } from "@/server/waiting/gate";
import { respond } from "@/server/http/reply";

export const dynamic = "force-dynamic";

/** What reading an encoding's table takes in memory at most, bytes. */
const WEIGHT = 256 * 2 ** 20;

/** Working light of grey code values, 0 to 1. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<GreyRamp>(async () => {
    const { id } = await params;
    const { family, order, table } = await encodingNamed((await application()).db, id);
    const about = { key: `ramp ${order.revision}`, name: id, weight: table ? WEIGHT : 0 };
    return { family, ...(await readers().run("ramp", { encoding: order }, { ...about, ...deadlineOf(request) })) };
  });
