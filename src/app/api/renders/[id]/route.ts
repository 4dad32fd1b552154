import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { removeRenderNamed } from "@/server/removal/remove";

/** Removes a render that has ended, and its files. */
export const DELETE = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    await removeRenderNamed((await application()).db, (await params).id);
  });
