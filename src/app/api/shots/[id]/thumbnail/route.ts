import { application } from "@/server/app/application";
import { thumbnail } from "@/server/api/frames";
import { notFound, respond } from "@/server/api/respond";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const { frames } = found.footage;
    const frame = Number(new URL(request.url).searchParams.get("frame") ?? frames[frames.length >> 1]);
    const jpeg = await thumbnail(found.shot, found.footage, frame);
    return new Response(new Uint8Array(jpeg), { headers: { "content-type": "image/jpeg", "cache-control": "private, max-age=3600" } });
  });
