import type { FarmStatus, QueuedRender } from "../../contract/farm";
import { ENGINE_VERSION } from "../../core/engine/version";
import { countOf } from "../../core/frame/ranges";
import type { Database } from "../../store/database";
import { drainWorker, listWorkers, openRenders, portionCounts } from "../../store/farm";
import { LEASE_SECONDS } from "../../store/queries";
import { notFound, Refusal } from "../errors/errors";
import { stemOf } from "../render/deliver";
import { withoutFrame } from "../../contract/naming";

const NONE = { open: 0, leased: 0, done: 0 };

/** Who makes frames, and of what. */
export async function farmStatus(db: Database): Promise<FarmStatus> {
  const [workers, renders, counts] = await Promise.all([listWorkers(db), openRenders(db), portionCounts(db)]);
  return {
    engine: ENGINE_VERSION,
    workers: workers.map(({ id, name, host, program, engine, draining, ...worker }) => ({
      ...{ id, name, host, program, engine, isDraining: draining },
      ...{ renderId: worker.renderId, frames: worker.frames, framesPerSecond: worker.framesPerSecond },
      silentFor: worker.silentFor,
      isTakenForDead: worker.silentFor > LEASE_SECONDS,
    })),
    renders: renders.map((render): QueuedRender => ({
      ...{ id: render.id, name: withoutFrame(stemOf(render)), state: render.state, paused: render.paused },
      ...{ priority: render.priority, engine: render.engine },
      ...{ frames: countOf(render.frames), done: render.done, portions: counts.get(render.id) ?? NONE },
    })),
  };
}

/** No more work for a worker, or work again, by its name or the beginning of its id. Gives its name. Throws Refusal. */
export async function setDraining(db: Database, named: string, isDraining: boolean): Promise<string> {
  const workers = await listWorkers(db);
  const found = workers.filter(({ id, name }) => name === named || id.startsWith(named));
  if (found.length > 1)
    throw new Refusal(
      "conflict",
      `${found.length} workers are called ${named}; say one of their ids: ${found.map(({ id }) => id).join(", ")}`,
    );
  const [worker] = found;
  if (!worker || !(await drainWorker(db, worker.id, isDraining))) throw notFound(`The worker ${named}`);
  return worker.name;
}
