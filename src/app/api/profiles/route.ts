import type { Profile } from "@/core/profile/profiles";
import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { allProfiles } from "@/store/profiles";

export const dynamic = "force-dynamic";

/** Every profile a look may name, earlier revisions too. */
export const GET = () => respond<Profile[]>(async () => allProfiles((await application()).db));
