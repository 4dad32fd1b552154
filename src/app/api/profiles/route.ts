import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { listProfiles } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () => respond(async () => (await listProfiles((await application()).db)).map(({ body }) => body));
