import { application } from "@/server/app/application";
import { respond } from "@/server/api/respond";
import { renderedFrame } from "@/server/render/deliver";

export const dynamic = "force-dynamic";

/** A rendered frame as a display shows it: RGBA of 8 bits, rows from the top; its size in the headers. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    const { width, height, codes } = await renderedFrame((await application()).db, id, Number(frame));
    return new Response(new Uint8Array(codes), {
      headers: {
        "content-type": "application/octet-stream",
        "x-width": String(width),
        "x-height": String(height),
        "cache-control": "no-store",
      },
    });
  });
