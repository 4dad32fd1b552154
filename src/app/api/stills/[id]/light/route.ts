import { stillLightQuery } from "@/contract/frames";
import { application } from "@/server/app/application";
import { sendFrame } from "@/server/frames/frames";
import { deadlineOf } from "@/server/waiting/gate";
import { respond } from "@/server/http/reply";
import { stillAsRead } from "@/server/stills/deliver";
import { stillNamed } from "@/server/stills/keep";

export const dynamic = "force-dynamic";

/** A still's working light, as frames are sent. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { db } = await application();
    const still = await stillNamed(db, (await params).id);
    const { divide } = stillLightQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    return sendFrame(await stillAsRead(db, still), still.frame, divide, "light", deadlineOf(request));
  });
