import type { RenderManifest } from "@/contract/deliveries";
import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { renderNamed } from "@/server/render/deliver";
import { manifestOf } from "@/server/render/manifest";

export const dynamic = "force-dynamic";

/** What a render's folder holds, each file with its length and hash. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<RenderManifest>(async () => {
    const { db } = await application();
    return manifestOf(db, await renderNamed(db, (await params).id));
  });
