import { application } from "@/server/app/application";
import { seen, thumbnail } from "@/server/api/frames";
import { notFound, respond } from "@/server/api/respond";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** Widths a picture is sent in, about, px. */
const WIDTHS = [400, 800];

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const { frames } = found.footage;
    const query = new URL(request.url).searchParams;
    const frame = Number(query.get("frame") ?? frames[frames.length >> 1]);
    const width = WIDTHS.find((entry) => entry === Number(query.get("width"))) ?? WIDTHS[0];
    const jpeg = await thumbnail(await seen(db, found, query.get("encoding")), frame, width);
    return new Response(new Uint8Array(jpeg), {
      headers: { "content-type": "image/jpeg", "cache-control": "no-cache" },
    });
  });
