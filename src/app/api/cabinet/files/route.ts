import { type ProfileFileReading, readProfileQuery } from "@/contract/cabinet";
import { readingOfFile } from "@/server/cabinet/files";
import { respond } from "@/server/http/reply";

/** What a file's bytes hold; nothing is kept. */
export const POST = (request: Request) =>
  respond<ProfileFileReading>(async () => {
    const { name, ...shot } = readProfileQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    return readingOfFile(name, Buffer.from(await request.arrayBuffer()), shot);
  });
