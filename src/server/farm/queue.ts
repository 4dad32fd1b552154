/** Renders as they are queued, and what can be done with those that are. */
import { join } from "node:path";
import { stemOfShot, withoutFrame } from "../../contract/naming";
import type { RenderPlace } from "../../contract/renders";
import { ENGINE_VERSION } from "../../core/engine/version";
import { countOf, parts, type Ranges } from "../../core/frame/ranges";
import { holdsAllFrames } from "../../formats/formats";
import type { Database } from "../../store/database";
import { isBeingMade, rendersWithoutPortions, reopen } from "../../store/farm";
import { addPortions, addRender, findShot, moveRender, type Render } from "../../store/queries";
import { snapshotOf } from "../render/snapshot";
import { underRoot } from "../storage/named-roots";

/** Frames of a portion: few enough that many workers share a render, and that little is lost with one of them. */
const PORTION_FRAMES = 8;
/** Of one render; of a longer one they have more frames each. */
const MAX_PORTIONS = 4096;

/** The frames of a render as workers take them. */
export function portionsOf({ format, frames }: { format: string; frames: Ranges }): Ranges[] {
  if (holdsAllFrames(`x.${format}`)) return [frames];
  return parts(frames, Math.max(PORTION_FRAMES, Math.ceil(countOf(frames) / MAX_PORTIONS)));
}

type NewRender = Omit<Parameters<typeof addRender>[1], "snapshot" | "engine"> & {
  /** Where it goes. Default: among the renders of the data folder. */
  into?: RenderPlace | null;
};

export interface RenderQueue {
  /** Queues a render, with what it names as that is now. */
  add(order: NewRender): Promise<Render>;
  /** False where it has ended. */
  cancel(id: number): Promise<boolean>;
  /** No further frame is begun until it is gone on with. False where it has ended. */
  pause(id: number, paused: boolean): Promise<boolean>;
  /** False where it has ended. */
  setPriority(id: number, priority: number): Promise<boolean>;
  /** Tells the worker in this process, where there is one, to look at once for what has changed. */
  nudge(): void;
  /**
   * Queues what failed or was cancelled once more: frames that are finished stay, the others are made. False where it is
   * nothing of the kind, or a frame of it is still being made.
   */
  again(id: number): Promise<boolean>;
}

const OPEN = ["queued", "running"] as const;

/** The queue in a database. `nudge`: told of every change, so that a worker in this process need not wait for it. */
export function renderQueue(db: Database, nudge: () => void = () => {}): RenderQueue {
  const changed = <T>(result: T): T => {
    nudge();
    return result;
  };
  return {
    nudge,
    async add({ into, ...order }) {
      const found = await findShot(db, order.shotId);
      const snapshot = found && (await snapshotOf(db, order.look, found, order.encoding ?? null));
      const stem = order.stem ?? (found && stemOfShot(found.shot));
      const placed = (name: string) => {
        const folder = withoutFrame(name);
        return into ? underRoot(into.root, join(into.folder, folder)) : folder;
      };
      const productionId = found?.shot.productionId;
      const values = { ...order, snapshot, stem, productionId, engine: ENGINE_VERSION };
      return changed(await addRender(db, values, portionsOf(order), placed));
    },
    cancel: async (id) => changed(await moveRender(db, id, [...OPEN], { state: "cancelled", ended: new Date() })),
    pause: async (id, paused) => changed(await moveRender(db, id, [...OPEN], { paused })),
    setPriority: async (id, priority) => changed(await moveRender(db, id, [...OPEN], { priority })),
    again: async (id) => changed(!(await isBeingMade(db, id)) && (await reopen(db, id))),
  };
}

/** Cuts renders that an earlier version of the program queued into portions. */
export async function bringRendersAlong(db: Database): Promise<void> {
  for (const render of await rendersWithoutPortions(db)) {
    await addPortions(db, render.id, portionsOf(render));
  }
}
