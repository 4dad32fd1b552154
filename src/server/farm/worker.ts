/** A worker of the queue: it leases portions of renders, and says every second that it is alive. */
import { randomUUID } from "node:crypto";
import { hostname } from "node:os";
import { ENGINE_VERSION } from "../../core/engine/version";
import type { Database } from "../../store/database";
import { beat, forgetWorkers, leasePortion, type NewWorker, removeWorker } from "../../store/farm";
import { Refusal } from "../errors/errors";
import { DEADLINE, type Deadline, type StartThread } from "../render/thread";
import { version } from "../../../package.json";
import { type Held, halt, makePortion, type Maker } from "./portion";

/** How often things are done, ms. */
export interface Rhythm {
  /** A worker without work asks for some. */
  asks: number;
  /** While it makes frames it says that it is alive, and hears what is cancelled or paused. */
  beats: number;
  /** While it waits it says so less often: each time the database writes. */
  idleBeats: number;
  /** What was made is entered. */
  enters: number;
  /** Between tries to do what could not be done: a full disk, a database that is away. */
  retries: number;
}
const RHYTHM: Rhythm = { asks: 500, beats: 1000, idleBeats: 4000, enters: 250, retries: 1000 };

export interface WorkerOptions {
  /** As people know it. Default: the machine's. */
  name?: string;
  /** A worker that is drained waits for work again, and does not end. Default: it ends. */
  stays?: boolean;
  /** Portions at once. Default: 1. */
  concurrency?: number;
  deadline?: Deadline;
  rhythm?: Partial<Rhythm>;
  start?: StartThread;
}

export interface RunningWorker {
  id: string;
  /** Looks at once for what is to be made, cancelled or paused, instead of a moment later. */
  nudge(): void;
  /** Takes no more work, and gives back what is not made. `grace`: how long the frame in hand has, ms. */
  stop(grace?: number): Promise<void>;
  /** Resolves when it has ended, because it was stopped, or drained and done. */
  ended: Promise<void>;
}

/** Classes of PostgreSQL's codes for what is no better later: data, integrity, the statement itself. */
const FOR_GOOD = ["22", "23", "42"];

function isForGood(error: unknown): boolean {
  if (error instanceof Refusal) return true;
  const { code, cause } = (error ?? {}) as { code?: unknown; cause?: unknown };
  if (typeof code === "string" && FOR_GOOD.includes(code.slice(0, 2))) return true;
  return cause !== undefined && isForGood(cause);
}

export function startWorker(db: Database, options: WorkerOptions = {}): RunningWorker {
  const { name = hostname(), concurrency = 1, stays = false, deadline = DEADLINE, start } = options;
  const rhythm = { ...RHYTHM, ...options.rhythm };
  const self: NewWorker = {
    ...{ id: randomUUID(), name, host: hostname(), pid: process.pid },
    ...{ program: version, engine: ENGINE_VERSION },
  };
  const held = new Set<Held>();
  const sleepers = new Set<() => void>();
  let isStopping = false;
  let isDraining = false;

  /** Waits so many ms, or until somebody wakes it. */
  const wait = (ms: number) =>
    new Promise<void>((resolve) => {
      const wake = () => {
        clearTimeout(timer);
        sleepers.delete(wake);
        resolve();
      };
      const timer = setTimeout(wake, ms);
      sleepers.add(wake);
    });
  const wakeAll = () => [...sleepers].forEach((wake) => wake());

  const maker: Maker = {
    db,
    workerId: self.id,
    deadline,
    start,
    enters: rhythm.enters,
    frames: 0,
    async persist(what, work) {
      for (let told = ""; ;) {
        try {
          return await work();
        } catch (error) {
          if (isForGood(error)) throw error;
          const { message } = error as Error;
          if (message !== told) console.error(`Render worker: ${what}: ${message}`);
          told = message;
          if (isStopping) return null;
          await wait(rhythm.retries);
        }
      }
    },
  };

  /** Says that it is alive; what is not its own any more, or not to be gone on with, is stopped. */
  async function beatOnce(): Promise<void> {
    const before = [...held];
    const speed = before.reduce((sum, { framesPerSecond }) => sum + framesPerSecond, 0);
    const renderId = before[0]?.portion.renderId ?? null;
    const told = await beat(db, self, { renderId, frames: maker.frames, framesPerSecond: speed || null });
    const isBack = isDraining && !told.isDraining;
    isDraining = told.isDraining;
    if (isBack) wakeAll();
    const own = new Map(told.portions.map((portion) => [portion.id, portion]));
    for (const one of before.filter((entry) => held.has(entry))) {
      const now = own.get(one.portion.id);
      if (!now) halt(one, "lost");
      else if (now.state !== "queued" && now.state !== "running") halt(one, "cancelled");
      else if (now.paused) halt(one, "paused");
    }
  }

  async function slot(): Promise<void> {
    let thread: Held["thread"] = null;
    while (!isStopping && (stays || !isDraining)) {
      const portion = isDraining ? null : await maker.persist("lease a portion", () => leasePortion(db, self));
      if (!portion) {
        await thread?.end();
        thread = null;
        await wait(rhythm.asks);
        continue;
      }
      const one: Held = { portion, thread, stopped: isStopping ? "stopping" : null, framesPerSecond: 0 };
      held.add(one);
      // It is said at once that it does something.
      if (held.size === 1) wakeAll();
      try {
        await makePortion(maker, one);
      } catch (error) {
        // Its lease runs out, and it is taken again.
        console.error(`Render worker: ${(error as Error).message}`);
        await wait(rhythm.retries);
      } finally {
        held.delete(one);
      }
      thread = one.thread;
    }
    await thread?.end();
  }

  let isEnded = false;
  const beats = (async () => {
    await forgetWorkers(db).catch(() => {});
    while (!isEnded) {
      await beatOnce().catch(() => {});
      if (!isEnded) await wait(held.size ? rhythm.beats : rhythm.idleBeats);
    }
  })();
  const ended = Promise.all(Array.from({ length: concurrency }, slot)).then(async () => {
    isEnded = true;
    wakeAll();
    await beats;
    await removeWorker(db, self.id).catch(() => {});
  });
  return {
    id: self.id,
    nudge: wakeAll,
    async stop(grace) {
      isStopping = true;
      for (const one of held) halt(one, "stopping", grace);
      wakeAll();
      await ended;
    },
    ended,
  };
}
