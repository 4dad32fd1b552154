import { exportTableBody, type TableMade } from "@/contract/export";
import { application } from "@/server/app/application";
import { exportForShot } from "@/server/export/for-shot";
import { deadlineOf } from "@/server/waiting/gate";
import { notFound } from "@/server/errors/errors";
import { readBody, respond } from "@/server/http/reply";
import { findShot } from "@/store/queries";

export const dynamic = "force-dynamic";

/** The tonal part of a look as a table, measured over a frame of the shot. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<TableMade>(async () => {
    const { id } = await params;
    const order = await readBody(request, exportTableBody);
    const { db } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    return exportForShot(db, found, order, deadlineOf(request));
  });
