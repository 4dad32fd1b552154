import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";

/** Enters the demo production; its footage is computed behind it. */
export const POST = () => respond(async () => (await application()).demo.open());
