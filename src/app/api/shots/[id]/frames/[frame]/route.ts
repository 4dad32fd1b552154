import { application } from "@/server/app/application";
import { DIVISORS, asRead, sendFrame } from "@/server/frames/frames";
import { deadlineOf } from "@/server/waiting/gate";
import { notFound, Refusal } from "@/server/errors/errors";
import { numberIn, respond } from "@/server/http/reply";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** A frame in working light; with `overscan` also what its file holds around what is shown. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    const query = new URL(request.url).searchParams;
    const divide = Number(query.get("divide") ?? 1);
    if (!DIVISORS.includes(divide)) throw new Refusal("invalid", `divide: is one of ${DIVISORS.join(", ")}`);
    const { db } = await application();
    const deadline = deadlineOf(request);
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const from = await asRead(db, found, query.get("encoding"));
    const plane = query.get("plane") === "depth" ? "depth" : "light";
    return sendFrame(from, numberIn(frame, "Frame"), divide, plane, deadline, query.get("overscan") === "yes");
  });
