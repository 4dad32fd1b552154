import { frameQuery } from "@/contract/frames";
import { application } from "@/server/app/application";
import { asRead, sendFrame } from "@/server/frames/frames";
import { deadlineOf } from "@/server/waiting/gate";
import { notFound } from "@/server/errors/errors";
import { numberIn, respond } from "@/server/http/reply";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** A frame in working light; with `overscan` also what its file holds around what is shown. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    const asked = frameQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    const { divide, plane, encoding, overscan } = asked;
    const { db } = await application();
    const deadline = deadlineOf(request);
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const from = await asRead(db, found, encoding);
    return sendFrame(from, numberIn(frame, "Frame"), divide, plane, deadline, overscan === "yes");
  });
