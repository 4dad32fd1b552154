import { application } from "@/server/app/application";
import { PRODUCTION } from "@/server/seed/demo";
import { respond } from "@/server/http/reply";

/** Enters the demo production; its footage is computed behind it. */
export const POST = () =>
  respond<{ production: string }>(async () => {
    await (await application()).demo.open();
    return { production: PRODUCTION.id };
  });
