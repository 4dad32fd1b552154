/** The queue: renders cut into portions, the workers that lease them, and the frames that were made. */
import { and, asc, desc, eq, gt, inArray, isNotNull, isNull, lt, sql } from "drizzle-orm";
import { firstOf, lastOf, type Ranges } from "../core/frame/ranges";
import type { Database } from "./database";
import { LEASE_SECONDS, type Render, renderColumns } from "./queries";
import { type ReadFiles, portions, renderedFrames, renders, type RenderState, workers } from "./schema/schema";

export type Portion = typeof portions.$inferSelect;
export type WorkerRow = typeof workers.$inferSelect;
export type NewWorker = Pick<WorkerRow, "id" | "name" | "host" | "pid" | "program" | "engine">;
export type RenderedFrame = typeof renderedFrames.$inferSelect;

/** So long after it was last heard a dead worker is still listed, s. */
const LISTED_SECONDS = 60;
/** Leases of one portion that end without a frame before it is given up. */
export const MAX_ATTEMPTS = 5;
/** Failures that a render is listed with. */
const MAX_FAILURES_LISTED = 200;

const leaseEnd = sql`now() + ${LEASE_SECONDS} * interval '1 second'`;

/** Renders to be made that have no portions yet: of a version of the program that had none. */
export const rendersWithoutPortions = (db: Database): Promise<Render[]> =>
  db
    .select()
    .from(renders)
    .where(
      and(
        inArray(renders.state, ["queued", "running"]),
        sql`not exists (select from ${portions} where ${portions.renderId} = ${renders.id})`,
      ),
    );

/**
 * Leases the portion that comes first to a worker: of the render with the highest priority, then of the oldest; one that
 * nobody has, or whose worker was not heard for too long. Null where there is none for this version of the engine.
 */
export async function leasePortion(db: Database, { id, engine }: NewWorker): Promise<Portion | null> {
  // Render by render: the first that has one is the last that is looked at.
  const first = sql`(
    select p.id from (
      select id from ${renders}
      where state in ('queued', 'running') and not paused and coalesce(engine, ${engine}) = ${engine}
      order by priority desc, id
    ) r cross join lateral (
      select id from ${portions} own
      where own.render_id = r.id and own.state <> 'done' and (own.state = 'open' or own.leased_until < now())
        and (own.kind = 'frames' or not exists (
          select from ${portions} other
          where other.render_id = own.render_id and other.kind = 'frames' and other.state <> 'done'))
      order by own.id limit 1 for update skip locked
    ) p limit 1)`;
  const [portion] = await db
    .update(portions)
    .set({ state: "leased", workerId: id, leasedUntil: leaseEnd, attempts: sql`${portions.attempts} + 1` })
    .where(eq(portions.id, first))
    .returning();
  return portion ?? null;
}

const heldBy = (portion: Pick<Portion, "id">, workerId: string) =>
  and(eq(portions.id, portion.id), eq(portions.workerId, workerId), eq(portions.state, "leased"));

/** Gives a portion back unmade; it is leased again from its first frame that is not there. */
export const releasePortion = (db: Database, portion: Pick<Portion, "id">, workerId: string) =>
  db
    .update(portions)
    .set({ state: "open", workerId: null, leasedUntil: null, attempts: 0 })
    .where(heldBy(portion, workerId));

/** Ends a portion. `read`: the files that were read for it, for the recipe. False where its lease was lost. */
export async function endPortion(
  db: Database,
  portion: Pick<Portion, "id">,
  workerId: string,
  read: ReadFiles | null,
): Promise<boolean> {
  const rows = await db
    .update(portions)
    .set({ state: "done", workerId: null, leasedUntil: null, read })
    .where(heldBy(portion, workerId))
    .returning({ id: portions.id });
  return rows.length > 0;
}

/** What became of a frame. `file` and what follows are null for one that failed, and where all frames lie in one file. */
export type FrameResult = Pick<RenderedFrame, "frame" | "file" | "recipe" | "bytes" | "sha256" | "reason">;

/**
 * Enters frames that a worker made or failed to make, once each. False where its lease was lost: another makes them then.
 */
export const commitFrames = (
  db: Database,
  portion: Pick<Portion, "id" | "renderId">,
  workerId: string,
  frames: readonly FrameResult[],
): Promise<boolean> =>
  db.transaction(async (tx) => {
    const { renderId } = portion;
    const [own] = await tx.select({ id: portions.id }).from(portions).where(heldBy(portion, workerId)).for("update");
    if (!own) return false;
    const numbers = frames.map(({ frame }) => frame);
    const before = await tx
      .select({ frame: renderedFrames.frame, reason: renderedFrames.reason })
      .from(renderedFrames)
      .where(and(eq(renderedFrames.renderId, renderId), inArray(renderedFrames.frame, numbers)));
    const entered = (column: string) => sql.raw(`excluded.${column}`);
    await tx
      .insert(renderedFrames)
      .values(frames.map((frame) => ({ renderId, ...frame })))
      .onConflictDoUpdate({
        target: [renderedFrames.renderId, renderedFrames.frame],
        set: {
          file: entered("file"),
          recipe: entered("recipe"),
          bytes: entered("bytes"),
          sha256: entered("sha256"),
          reason: entered("reason"),
        },
      });
    const made = (rows: readonly { reason: string | null }[]) => rows.filter(({ reason }) => reason === null).length;
    const hadFailures = [...before, ...frames].some(({ reason }) => reason !== null);
    await tx
      .update(portions)
      .set({ attempts: 0, leasedUntil: leaseEnd, made: sql`${portions.made} + ${made(frames) - made(before)}` })
      .where(eq(portions.id, portion.id));
    // The render's own line is everybody's: it is written only where there is something to say.
    if (hadFailures)
      await tx
        .update(renders)
        .set({ failed: await failuresOf(tx as unknown as Database, renderId) })
        .where(eq(renders.id, renderId));
    return true;
  });

async function failuresOf(db: Database, renderId: number): Promise<Render["failed"]> {
  const rows = await db
    .select({ frame: renderedFrames.frame, reason: renderedFrames.reason })
    .from(renderedFrames)
    .where(and(eq(renderedFrames.renderId, renderId), isNotNull(renderedFrames.reason)))
    .orderBy(asc(renderedFrames.frame))
    .limit(MAX_FAILURES_LISTED);
  return rows.map(({ frame, reason }) => ({ frame, reason: reason! }));
}

/** The frames of a render that are made; `frames`: of these alone. */
export const framesMade = (db: Database, renderId: number, frames?: Ranges): Promise<RenderedFrame[]> =>
  db
    .select()
    .from(renderedFrames)
    .where(
      and(
        eq(renderedFrames.renderId, renderId),
        isNull(renderedFrames.reason),
        ...(frames ? [sql`${renderedFrames.frame} between ${firstOf(frames)} and ${lastOf(frames)}`] : []),
      ),
    )
    .orderBy(asc(renderedFrames.frame));

/** What was read for a render's frames, portion by portion. */
export const filesRead = async (db: Database, renderId: number): Promise<ReadFiles[]> =>
  (
    await db
      .select({ read: portions.read })
      .from(portions)
      .where(and(eq(portions.renderId, renderId), isNotNull(portions.read)))
      .orderBy(asc(portions.id))
  ).map(({ read }) => read!);

/** What a worker says of itself every second. */
export interface Beat {
  /** The render it makes frames of; null where it waits. */
  renderId: number | null;
  /** Frames it made since it was started. */
  frames: number;
  framesPerSecond: number | null;
}

/** What a worker is told in turn. */
export interface Told {
  isDraining: boolean;
  /** The portions that are still its own, and whether they are to be gone on with. */
  portions: { id: number; state: RenderState; paused: boolean }[];
}

/** Says that a worker is alive, and holds its leases. */
export async function beat(db: Database, worker: NewWorker, said: Beat): Promise<Told> {
  const heard = { ...said, heard: sql`now()` };
  const [row] = await db
    .insert(workers)
    .values({ ...worker, ...said })
    .onConflictDoUpdate({ target: workers.id, set: heard })
    .returning({ isDraining: workers.draining });
  const own = await db
    .update(portions)
    .set({ leasedUntil: leaseEnd })
    .from(renders)
    .where(and(eq(renders.id, portions.renderId), eq(portions.workerId, worker.id), eq(portions.state, "leased")))
    .returning({ id: portions.id, state: renders.state, paused: renders.paused });
  return { isDraining: row!.isDraining, portions: own };
}

export const removeWorker = (db: Database, id: string) => db.delete(workers).where(eq(workers.id, id));

const listedSince = sql`now() - ${LISTED_SECONDS} * interval '1 second'`;

/** Forgets workers that were not heard for long: done by each that begins. */
export const forgetWorkers = (db: Database) => db.delete(workers).where(lt(workers.heard, listedSince));

/** Workers that are heard, or were a while ago. */
export async function listWorkers(db: Database): Promise<(WorkerRow & { silentFor: number })[]> {
  const rows = await db
    .select({ worker: workers, silentFor: sql<string>`extract(epoch from now() - ${workers.heard})` })
    .from(workers)
    .where(gt(workers.heard, listedSince))
    .orderBy(asc(workers.started));
  return rows.map(({ worker, silentFor }) => ({ ...worker, silentFor: Number(silentFor) }));
}

/** No more work for a worker, or work again. False where there is no such worker. */
export async function drainWorker(db: Database, id: string, draining: boolean): Promise<boolean> {
  const rows = await db.update(workers).set({ draining }).where(eq(workers.id, id)).returning({ id: workers.id });
  return rows.length > 0;
}

/** Portions of renders that are not ended: how many wait, are being made and are done. */
export async function portionCounts(db: Database): Promise<Map<number, Record<Portion["state"], number>>> {
  const rows = await db
    .select({ renderId: portions.renderId, state: portions.state, count: sql<number>`count(*)::int` })
    .from(portions)
    .innerJoin(renders, eq(renders.id, portions.renderId))
    .where(and(inArray(renders.state, ["queued", "running"]), eq(portions.kind, "frames")))
    .groupBy(portions.renderId, portions.state);
  const counts = new Map<number, Record<Portion["state"], number>>();
  for (const { renderId, state, count } of rows) {
    const own = counts.get(renderId) ?? { open: 0, leased: 0, done: 0 };
    own[state] = count;
    counts.set(renderId, own);
  }
  return counts;
}

/** Whether a worker that is alive has a portion of a render in hand. */
export async function isBeingMade(db: Database, renderId: number): Promise<boolean> {
  const [row] = await db
    .select({ id: portions.id })
    .from(portions)
    .where(and(eq(portions.renderId, renderId), eq(portions.state, "leased"), gt(portions.leasedUntil, sql`now()`)))
    .limit(1);
  return row !== undefined;
}

/** Forgets what was made of a render: its one file is begun anew. */
export const forgetFrames = (db: Database, renderId: number): Promise<void> =>
  db.transaction(async (tx) => {
    await tx.delete(renderedFrames).where(eq(renderedFrames.renderId, renderId));
    await tx.update(portions).set({ made: 0 }).where(eq(portions.renderId, renderId));
    await tx.update(renders).set({ failed: [] }).where(eq(renders.id, renderId));
  });

/** Ends a render that runs: failed, where any of its frames did. */
export async function endRender(db: Database, renderId: number): Promise<void> {
  const failed = await failuresOf(db, renderId);
  const framesPerSecond = sql`(select sum(made) from portions where render_id = ${renderId})
    / greatest(0.001, extract(epoch from now() - renders.started_at))`;
  await db
    .update(renders)
    .set({ state: failed.length ? "failed" : "done", failed, ended: sql`now()`, framesPerSecond })
    .where(and(eq(renders.id, renderId), eq(renders.state, "running")));
}

/** Gives back whatever is leased: of the one process that may have the database, and no other worker can be alive. */
export const releaseAll = (db: Database) =>
  db.update(portions).set({ state: "open", workerId: null, leasedUntil: null }).where(eq(portions.state, "leased"));

/** Opens every portion of a render that has ended again; frames that are made stay made. False where it is in none of `from`. */
export const reopen = (
  db: Database,
  renderId: number,
  from: RenderState[] = ["failed", "cancelled"],
): Promise<boolean> =>
  db.transaction(async (tx) => {
    const [row] = await tx
      .update(renders)
      .set({ state: "queued", failed: [], ended: null, paused: false })
      .where(and(eq(renders.id, renderId), inArray(renders.state, from)))
      .returning({ id: renders.id });
    if (!row) return false;
    await tx.delete(renderedFrames).where(and(eq(renderedFrames.renderId, renderId), isNotNull(renderedFrames.reason)));
    await tx
      .update(portions)
      .set({ state: "open", workerId: null, leasedUntil: null, attempts: 0, read: null })
      .where(eq(portions.renderId, renderId));
    return true;
  });

/** What waits or is made, in the order it is taken. */
export const openRenders = (db: Database) =>
  db
    .select(renderColumns)
    .from(renders)
    .where(inArray(renders.state, ["queued", "running"]))
    .orderBy(desc(renders.priority), asc(renders.id));
