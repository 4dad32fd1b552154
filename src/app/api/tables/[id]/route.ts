import { application } from "@/server/app/application";
import { toPlain } from "@/core/colour/transform/plain";
import { notFound, respond } from "@/server/api/respond";
import { readTable } from "@/server/colour/made";
import { listTables } from "@/store/queries";

export const dynamic = "force-dynamic";

/** A table as steps, for the engine in the browser. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const found = (await listTables((await application()).db)).find((entry) => entry.id === id);
    if (!found) throw notFound(`The table ${id}`);
    return toPlain(readTable(found.file, found.text));
  });
