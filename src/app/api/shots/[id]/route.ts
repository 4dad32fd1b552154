import { application } from "@/server/app/application";
import { notFound, respond } from "@/server/api/respond";
import { framesOfShot } from "@/server/footage/shot";
import { findShot, lookOf, versionsOf } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db, demo } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const { shot, footage, production } = found;
    return { ...shot, footage, production, frames: framesOfShot(footage, shot), progress: demo.shots[id] ?? 1, look: await lookOf(db, id), versions: await versionsOf(db, id) };
  });
