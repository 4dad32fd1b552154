import type { Uses } from "@/contract/shots";
import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { usesOfShot } from "@/server/removal/remove";

export const dynamic = "force-dynamic";

/** What hangs on a shot: told before it is removed. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<Uses>(async () => usesOfShot((await application()).db, (await params).id));
