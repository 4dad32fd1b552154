import type { ShotDetail } from "@/contract/shots";
import { application } from "@/server/app/application";
import { notFound } from "@/server/errors/errors";
import { respond } from "@/server/http/reply";
import { removeShotNamed } from "@/server/removal/remove";
import { toldShot } from "@/server/shots/shots";
import { findShot } from "@/store/queries";
import { versionsOf } from "@/store/versions";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context) =>
  respond<ShotDetail>(async () => {
    const { id } = await params;
    const { db } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    return {
      ...toldShot(found),
      versions: await versionsOf(db, id),
    };
  });

/** Removes a shot, and its footage where no other shot uses it; what was rendered of it stays. */
export const DELETE = (_: Request, { params }: Context) =>
  respond(async () => removeShotNamed((await application()).db, (await params).id));
