import { respond } from "@/server/api/respond";
import { receive } from "@/server/intake/receive";

/** A file's bytes from `at` on; `size` is what it has in all. */
export const PUT = (request: Request, { params }: { params: Promise<{ batch: string; path: string[] }> }) =>
  respond(async () => {
    const { batch, path } = await params;
    const query = new URL(request.url).searchParams;
    return receive(
      batch,
      path.map(decodeURIComponent),
      Number(query.get("at") ?? 0),
      Number(query.get("size") ?? -1),
      request.body,
    );
  });
