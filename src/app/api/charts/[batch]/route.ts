import { application } from "@/server/app/application";
import { sendChartFrame } from "@/server/charts/chart-frame";
import { Refusal } from "@/server/errors/errors";
import { respond } from "@/server/http/reply";
import { deadlineOf } from "@/server/waiting/gate";

export const dynamic = "force-dynamic";

/** Light of a frame that was sent to be measured: `file` in its batch, read in `encoding`. */
export const GET = (request: Request, { params }: { params: Promise<{ batch: string }> }) =>
  respond(async () => {
    const { batch } = await params;
    const query = new URL(request.url).searchParams;
    const [path, encoding] = [query.get("file"), query.get("encoding")];
    if (!path) throw new Refusal("invalid", "file: is the frame’s path in its batch");
    if (!encoding) throw new Refusal("invalid", "encoding: is the name of an encoding");
    return sendChartFrame((await application()).db, { batch, path, encoding }, deadlineOf(request));
  });
