import { plateQuery } from "@/contract/frames";
import { plateFrame } from "@/core/frame/plate";
import { application } from "@/server/app/application";
import { framesOfShot } from "@/server/shots/shot";
import { asRead, sendFrame } from "@/server/frames/frames";
import { deadlineOf } from "@/server/waiting/gate";
import { notFound } from "@/server/errors/errors";
import { respond } from "@/server/http/reply";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/**
 * A frame of a shot that is laid over another: by its index, counted from the shot's first, which may lie past its
 * ends.
 */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { index, ends, divide, encoding } = plateQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    const { db } = await application();
    const deadline = deadlineOf(request);
    const found = await findShot(db, id);
    if (!found) throw notFound(`The plate ${id}`);
    const from = await asRead(db, found, encoding);
    const frame = plateFrame(framesOfShot(from.footage, from.shot), index, ends);
    return sendFrame(from, frame, divide, "light", deadline);
  });
