import { application } from "@/server/app/application";
import { notFound, respond } from "@/server/api/respond";
import { toldShot } from "@/server/api/shots";
import { findShot, lookOf, versionsOf } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db, demo } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    return { ...toldShot(found, demo), look: await lookOf(db, id), versions: await versionsOf(db, id) };
  });
