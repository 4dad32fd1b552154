import { application } from "@/server/app/application";
import { deadlineOf } from "@/server/waiting/gate";
import { numberIn, respond } from "@/server/http/reply";
import { renderedThumbnail } from "@/server/render/deliver";

export const dynamic = "force-dynamic";

export const GET = (request: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    const { db } = await application();
    const jpeg = await renderedThumbnail(db, id, numberIn(frame, "Frame"), deadlineOf(request));
    return new Response(jpeg, { headers: { "content-type": "image/jpeg", "cache-control": "no-cache" } });
  });
