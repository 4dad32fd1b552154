import type { Manifest } from "@/core/measure/manifest";
import { application } from "@/server/app/application";
import { beginBenchDay, benchDayManifest } from "@/server/seed/bench-day";
import { respond } from "@/server/http/reply";

type Context = { params: Promise<{ id: string }> };

/** What the frames of a lens or filter are. */
export const GET = (_: Request, { params }: Context) =>
  respond<Manifest>(async () => {
    await application();
    return benchDayManifest((await params).id);
  });

/** Begins to compute them. */
export const POST = (_: Request, { params }: Context) =>
  respond(async () => {
    await application();
    beginBenchDay((await params).id);
  });
