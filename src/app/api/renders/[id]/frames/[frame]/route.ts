import { application } from "@/server/app/application";
import { bodyOf, roomToSend } from "@/server/frames/sending";
import { deadlineOf } from "@/server/waiting/gate";
import { numberIn, respond } from "@/server/http/reply";
import { renderedFrame } from "@/server/render/deliver";

export const dynamic = "force-dynamic";

/** A rendered frame as a display shows it: RGBA of 8 bits, rows from the top; its size in the headers. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    const { db } = await application();
    const deadline = deadlineOf(request);
    const { width, height, codes } = await renderedFrame(db, id, numberIn(frame, "Frame"), deadline);
    const sent = await roomToSend(codes.length, deadline);
    const headers = {
      "content-length": String(codes.length),
      "content-type": "application/octet-stream",
      "x-width": String(width),
      "x-height": String(height),
      "cache-control": "no-store",
    };
    return new Response(bodyOf([codes], sent), { headers });
  });
