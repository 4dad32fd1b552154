import { defaultViewKind } from "../../core/view/view";
import type { Shot, ShotChange } from "../../contract/shots";
import type { Database } from "../../store/database";
import { firstOf, lastOf } from "../../core/frame/ranges";
import {
  findShot,
  type FoundShot,
  lookOf,
  saveLook,
  type ShotChange as RowChange,
  updateShots,
} from "../../store/queries";
import { hasProduction } from "../../store/productions";
import { makerOf } from "../footage/making";
import { encodingNamed } from "../colour/library";
import { framesOfShot, hasDepth } from "./shot";
import { notFound, Refusal } from "../errors/errors";

/**
 * A shot as it is told: with its footage and production, the frames in use, how much of it is there, and whether it has
 * depth.
 */
export const toldShot = ({ shot, footage, production }: NonNullable<Awaited<ReturnType<typeof findShot>>>): Shot => ({
  ...shot,
  footage,
  production,
  frames: framesOfShot(footage, shot),
  progress: makerOf(footage.id)?.progress() ?? 1,
  made: makerOf(footage.id)?.there(),
  hasDepth: hasDepth(footage, shot),
});

const conflict = (name: string) =>
  new Refusal("conflict", `${name} was changed in another window; what it is now is shown`, { conflict: true });

/**
 * Changes shots together, all or none, and the view of looks that nothing was done to yet. `revisions`: of the shots as
 * they were seen; where one was changed since, nothing is (409). Gives the new ones.
 */
export async function changeShots(
  db: Database,
  ids: string[],
  change: ShotChange,
  revisions: Record<string, number> = {},
): Promise<Record<string, number>> {
  const found = await Promise.all(ids.map((id) => findShot(db, id)));
  const missing = found.findIndex((entry) => !entry);
  if (missing >= 0) throw notFound(`The shot ${ids[missing]}`);
  for (const entry of found) checkChange(entry!, change);
  const stale = found.find((entry) => (revisions[entry!.shot.id] ?? entry!.shot.revision) !== entry!.shot.revision);
  if (stale) throw conflict(stale.shot.name);
  const encoding = change.encoding === undefined ? null : await encodingNamed(db, change.encoding);
  const { productionId } = change;
  if (productionId !== undefined && !(await hasProduction(db, productionId)))
    throw notFound(`The production ${productionId}`);
  const row: RowChange = { ...change, ...(encoding ? { encodingReason: "chosen by hand" } : {}) };
  const now = await updateShots(db, ids, row, revisions);
  if (!now) throw conflict(found[0]!.shot.name);
  if (encoding) for (const id of ids) await followEncoding(db, id, encoding.family);
  return now;
}

function checkChange({ footage, shot }: FoundShot, change: ShotChange): void {
  const { frames, channels } = footage;
  const [low, high] = [firstOf(frames), lastOf(frames)];
  const first = change.firstFrame ?? shot.firstFrame ?? low;
  const last = change.lastFrame ?? shot.lastFrame ?? high;
  if (first > last || first > high || last < low)
    throw new Refusal(
      "invalid",
      `${shot.name}: in and out: the footage has frames ${low} to ${high}, and in must not be after out`,
    );
  if (change.depthChannel && channels.length && !channels.includes(change.depthChannel))
    throw new Refusal(
      "invalid",
      `${shot.name}: has no channel “${change.depthChannel}”; it has ${channels.join(", ")}`,
    );
}

/** The view of a look that nothing was done to yet follows the shot's encoding, whoever changes the look meanwhile. */
async function followEncoding(db: Database, id: string, family: string): Promise<void> {
  for (let standing = await lookOf(db, id); standing; standing = await lookOf(db, id)) {
    const { look, revision } = standing;
    const kind = defaultViewKind(family === "display");
    if (look.elements.length || look.view.kind === "lut" || look.view.kind === kind) return;
    if ((await saveLook(db, id, { ...look, view: { ...look.view, kind } }, revision)) !== null) return;
  }
}
