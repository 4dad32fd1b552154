import { application } from "@/server/app/application";
import type { Uses } from "@/contract/shots";
import { respond } from "@/server/http/reply";
import { usesOfProduction } from "@/server/productions/productions";

export const dynamic = "force-dynamic";

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<Uses>(async () => usesOfProduction((await application()).db, (await params).id));
