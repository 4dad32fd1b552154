import type { FarmStatus } from "@/contract/farm";
import { application } from "@/server/app/application";
import { farmStatus } from "@/server/farm/status";
import { respond } from "@/server/http/reply";

export const dynamic = "force-dynamic";

/** Who makes frames, and of what. */
export const GET = () => respond<FarmStatus>(async () => farmStatus((await application()).db));
