import { lookOn } from "@/core/look/camera";
import { type LookSaved, type LookStanding, saveLookBody, type CurrentLook } from "@/contract/looks";
import { application } from "@/server/app/application";
import { notFound, Refusal } from "@/server/errors/errors";
import { readBody, respond } from "@/server/http/reply";
import { currentLook } from "@/server/looks/library";
import { findShot, lookOf, saveLook } from "@/store/queries";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context) =>
  respond<CurrentLook>(async () => currentLook((await application()).db, (await params).id));

/**
 * Saves a look in place of the one it was made from. Where another stands there by now, nothing is saved and that one
 * is told.
 */
export const PUT = (request: Request, { params }: Context) =>
  respond<LookSaved>(async () => {
    const { id } = await params;
    const { db } = await application();
    const { look, revision } = await readBody(request, saveLookBody);
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    // Camera and depth are the shot's, whatever a look brings along.
    const saved = await saveLook(db, id, lookOn(look, found.shot), revision);
    if (saved !== null) return { revision: saved };
    const standing = await lookOf(db, id);
    if (!standing) throw notFound(`The shot ${id}`);
    const { look: theirs, revision: now } = standing;
    const more: LookStanding = { look: lookOn(theirs, found.shot), revision: now };
    throw new Refusal("conflict", "The look was changed in another window", { ...more });
  });
