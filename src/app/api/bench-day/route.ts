import type { BenchDayOffer } from "@/contract/charts";
import { application } from "@/server/app/application";
import { benchDayOffers } from "@/server/seed/bench-day";
import { respond } from "@/server/http/reply";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond<BenchDayOffer[]>(async () => {
    await application();
    return benchDayOffers();
  });
