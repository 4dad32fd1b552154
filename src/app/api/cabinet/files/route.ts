import { readProfileQuery } from "@/contract/cabinet";
import type { Profile } from "@/core/profile/profiles";
import { asRefusal, profileOfFile } from "@/server/cabinet/files";
import { respond } from "@/server/http/reply";

/** The profile that a file's bytes hold; nothing is kept. */
export const POST = (request: Request) =>
  respond<Profile>(async () => {
    const { name, ...shot } = readProfileQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    const bytes = Buffer.from(await request.arrayBuffer());
    return profileOfFile(name, bytes, shot).catch((error: unknown) => {
      throw asRefusal(error);
    });
  });
