import type { RecordedLensData } from "@/contract/shots";
import { application } from "@/server/app/application";
import { deadlineOf } from "@/server/waiting/gate";
import { notFound } from "@/server/errors/errors";
import { respond } from "@/server/http/reply";
import { recordedLenses } from "@/server/shots/lens-data";
import { framesOfShot, sourceOf } from "@/server/shots/shot";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** How the lens was set on each frame of a shot, by its footage's own headers. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<RecordedLensData>(async () => {
    const { id } = await params;
    const found = await findShot((await application()).db, id);
    if (!found) throw notFound(`The shot ${id}`);
    return recordedLenses(sourceOf(found.footage), framesOfShot(found.footage, found.shot), deadlineOf(request));
  });
