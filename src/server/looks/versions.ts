import type { Look } from "../../core/look/look";
import type { Database } from "../../store/database";
import { findShot, keepVersion, lookOf, type Version, versionsOf } from "../../store/queries";
import { notFound } from "../http/reply";

/** Kept looks of a shot, the newest first. Throws Refusal where there is no such shot. */
export async function versionsOfShot(db: Database, shotId: string): Promise<Version[]> {
  if (!(await findShot(db, shotId))) throw notFound(`The shot ${shotId}`);
  return versionsOf(db, shotId);
}

/** Keeps a look, or the one a shot wears, as its next version. Throws Refusal where there is no such shot. */
export async function keepVersionOf(
  db: Database,
  shotId: string,
  { look, name, note }: { look?: Look; name?: string; note?: string },
): Promise<Version> {
  const worn = await lookOf(db, shotId);
  if (!worn) throw notFound(`The shot ${shotId}`);
  return keepVersion(db, shotId, name, look ?? worn.look, note);
}
