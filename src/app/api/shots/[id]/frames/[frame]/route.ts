import { application } from "@/server/app/application";
import { seen, workingFrame } from "@/server/api/frames";
import { notFound, Refusal, respond } from "@/server/api/respond";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** Sizes a frame is sent in, as parts of its own. */
const DIVISORS = [1, 2, 4];

/** A frame in working light: RGBA float32, little-endian, rows from the top; its size in the headers. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    const query = new URL(request.url).searchParams;
    const divide = Number(query.get("divide") ?? 1);
    if (!DIVISORS.includes(divide)) throw new Refusal(400, `divide: is one of ${DIVISORS.join(", ")}`);
    const { db } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const plane = query.get("plane") === "depth" ? "depth" : "light";
    const { width, height, data, hasDepth } = await workingFrame(await seen(db, found, query.get("encoding")), Number(frame), divide, plane);
    return new Response(new Uint8Array(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength), {
      headers: { "content-type": "application/octet-stream", "x-width": String(width), "x-height": String(height), "x-depth": hasDepth ? "yes" : "no", "cache-control": "no-store" },
    });
  });
