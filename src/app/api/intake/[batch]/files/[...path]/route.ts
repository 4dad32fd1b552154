import { respond } from "@/server/http/reply";
import { receive } from "@/server/intake/receive";

const FILES = "/files/";

/** A file's bytes from `at` to `until`, or to its end; `size` is what it has in all. */
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
    const size = Number(searchParams.get("size") ?? -1);
    const piece = { at: Number(searchParams.get("at") ?? 0), until: Number(searchParams.get("until") ?? size), size };
    return (await receive(batch, path, piece, request.body)) ?? {};
  });
