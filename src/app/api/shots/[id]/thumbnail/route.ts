import { countOf, frameAt } from "@/core/frame/ranges";
import { application } from "@/server/app/application";
import { asRead, thumbnail } from "@/server/frames/frames";
import { deadlineOf } from "@/server/waiting/gate";
import { notFound } from "@/server/errors/errors";
import { numberIn, respond } from "@/server/http/reply";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** Widths a picture is sent in, about, px. */
const WIDTHS = [400, 800];

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    const query = new URL(request.url).searchParams;
    const deadline = deadlineOf(request);
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const from = await asRead(db, found, query.get("encoding"));
    const { frames } = from.footage;
    const asked = query.get("frame");
    const frame = asked === null ? frameAt(frames, countOf(frames) >> 1)! : numberIn(asked, "Frame");
    const width = WIDTHS.find((entry) => entry === Number(query.get("width"))) ?? WIDTHS[0];
    const jpeg = await thumbnail(from, frame, width, deadline);
    return new Response(jpeg, { headers: { "content-type": "image/jpeg", "cache-control": "no-cache" } });
  });
