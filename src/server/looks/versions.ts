import type { Look } from "../../core/look/look";
import type { Database } from "../../store/database";
import { findShot, lookOf } from "../../store/queries";
import { findVersion, keepVersion, type ListedVersion, versionsOf } from "../../store/versions";
import { notFound } from "../errors/errors";

/** Kept looks of a shot, the newest first. Throws Refusal where there is no such shot. */
export async function versionsOfShot(db: Database, shotId: string): Promise<ListedVersion[]> {
  if (!(await findShot(db, shotId))) throw notFound(`The shot ${shotId}`);
  return versionsOf(db, shotId);
}

/** The look of a version. Throws Refusal where there is no such version. */
export async function versionLook(db: Database, shotId: string, id: number): Promise<Look> {
  const found = await findVersion(db, shotId, id);
  if (!found) throw notFound(`That version of ${shotId}`);
  return found.body;
}

/** Keeps a look, or the one a shot wears, as its next version. Throws Refusal where there is no such shot. */
export async function keepVersionOf(
  db: Database,
  shotId: string,
  { look, name, note }: { look?: Look; name?: string; note?: string },
): Promise<ListedVersion> {
  const worn = await lookOf(db, shotId);
  if (!worn) throw notFound(`The shot ${shotId}`);
  return keepVersion(db, shotId, name, look ?? worn.look, note);
}
