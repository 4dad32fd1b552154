import type { ReadyLook } from "@/contract/looks";
import { readyMadeLooks } from "@/demo/ready-made";
import { respond } from "@/server/http/reply";

export const dynamic = "force-dynamic";

/** Looks to begin from. */
export const GET = () => respond<ReadyLook[]>(async () => readyMadeLooks());
