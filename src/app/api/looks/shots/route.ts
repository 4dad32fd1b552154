import { type LooksPut, putLooksBody } from "@/contract/looks";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { putLooks } from "@/server/looks/library";

/** Puts looks on several shots, all or none. */
export const PUT = (request: Request) =>
  respond<LooksPut>(async () => {
    const all = await readBody(request, putLooksBody);
    return { revisions: await putLooks((await application()).db, all) };
  });
