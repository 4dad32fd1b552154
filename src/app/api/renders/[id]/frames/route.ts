import type { FramesMade } from "@/contract/renders";
import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { framesThere, renderNamed } from "@/server/render/deliver";

export const dynamic = "force-dynamic";

/** Which frames of a render are there to be looked at. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<FramesMade>(async () => {
    const { db } = await application();
    return { made: await framesThere(db, await renderNamed(db, (await params).id)) };
  });
