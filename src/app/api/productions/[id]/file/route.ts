import { Readable } from "node:stream";
import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { exportZip } from "@/server/productions/productions";

export const dynamic = "force-dynamic";

/** A production's name as a file's. */
const fileNameOf = (name: string) => `${name.replace(/[^\p{L}\p{N} ._-]+/gu, "-").slice(0, 80)}.zip`;

/** The production as a zip: looks, versions, stills, glass, tables; its footage by hash. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { name, bytes, handle } = await exportZip((await application()).db, (await params).id);
    return new Response(Readable.toWeb(handle.createReadStream()) as ReadableStream<Uint8Array>, {
      headers: {
        "content-type": "application/zip",
        "content-length": String(bytes),
        "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(fileNameOf(name))}`,
      },
    });
  });
