import { z } from "zod";
import { application } from "@/server/app/application";
import { DIVISORS, sendFrame } from "@/server/frames/frames";
import { deadlineOf } from "@/server/waiting/gate";
import { respond } from "@/server/http/reply";
import { stillAsRead } from "@/server/stills/deliver";
import { stillNamed } from "@/server/stills/keep";

export const dynamic = "force-dynamic";

const divide = z.coerce
  .number()
  .refine((value) => DIVISORS.includes(value), `is one of ${DIVISORS.join(", ")}`)
  .default(1);

/** A still's working light, as frames are sent. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { db } = await application();
    const still = await stillNamed(db, (await params).id);
    const asked = divide.parse(new URL(request.url).searchParams.get("divide") ?? undefined);
    return sendFrame(await stillAsRead(db, still), still.frame, asked, "light", deadlineOf(request));
  });
