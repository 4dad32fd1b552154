import { stillPictureQuery } from "@/contract/stills";
import { application } from "@/server/app/application";
import { deadlineOf } from "@/server/waiting/gate";
import { respond } from "@/server/http/reply";
import { stillFile, stillPicture } from "@/server/stills/deliver";
import { stillNamed } from "@/server/stills/keep";

export const dynamic = "force-dynamic";

const TYPES = { png: "image/png", jpg: "image/jpeg", exr: "image/x-exr" };

/** A still as a picture: through its look's view, or (exr) its light. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { db } = await application();
    const still = await stillNamed(db, (await params).id);
    const { format, width } = stillPictureQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    const bytes =
      format === "exr"
        ? await stillFile(still)
        : await stillPicture(db, still, format, width ?? null, deadlineOf(request));
    const name = `${still.shotId}.${String(still.frame).padStart(4, "0")}.still-${still.id}.${format}`;
    return new Response(new Uint8Array(bytes), {
      headers: {
        "content-type": TYPES[format],
        "cache-control": "private, max-age=3600",
        ...(width === undefined ? { "content-disposition": `attachment; filename="${name}"` } : {}),
      },
    });
  });
