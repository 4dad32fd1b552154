import { respond } from "@/server/http/reply";
import { receive } from "@/server/intake/receive";

const FILES = "/files/";

/** A file's bytes from `at` on; `size` is what it has in all. */
export const PUT = (request: Request, { params }: { params: Promise<{ batch: string; path: string[] }> }) =>
  respond(async () => {
    const { batch } = await params;
    const { pathname, searchParams } = new URL(request.url);
    // Names are decoded once: what Next.js hands on has been decoded by some of its versions and not by others.
    // A folder in the path may have any name, “files” too: only the address's own part ends at the first.
    const path = pathname
      .slice(pathname.indexOf(FILES) + FILES.length)
      .split("/")
      .map(decodeURIComponent);
    const [at, size] = [Number(searchParams.get("at") ?? 0), Number(searchParams.get("size") ?? -1)];
    return receive(batch, path, at, size, request.body);
  });
