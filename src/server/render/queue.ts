import { steadyNow } from "../waiting/clock";
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import type { PGlite } from "@electric-sql/pglite";
import PgBoss from "pg-boss";
import type { Database } from "../../store/database";
import {
  addRender,
  findRender,
  findShot,
  moveRender,
  type Render,
  unfinishedRenders,
  updateRender,
} from "../../store/queries";
import { sweepUnfinished } from "../storage/files";
import { share } from "../storage/sharing";
import { built } from "../storage/roots";
import { stemOfShot } from "../../contract/naming";
import { fileNameOf, folderOf } from "./deliver";
import { renderOrder } from "./order";
import { snapshotOf } from "./snapshot";
import type { RenderOrder, RenderReport } from "./worker";

const QUEUE = "renders";
/** A job that nobody ends is forgotten by the queue after so long, hours. */
const EXPIRE_HOURS = 12;

/** How long things may take, ms. */
export interface Deadline {
  /** A cancelled worker ends after the frame it is at; one that does not is ended. */
  grace: number;
  /** A worker says something with every frame; one that says nothing for so long is taken for hung, and ended. */
  silence: number;
  /** Between tries to write what could not be written (a full disk). */
  retry: number;
}
const PATIENCE: Deadline = { grace: 10_000, silence: 15 * 60_000, retry: 2000 };

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms).unref());

/** The program a render runs in; tests give another. */
type StartWorker = (order: RenderOrder) => Worker;
const startRenderWorker: StartWorker = (order) => new Worker(built("render-worker.mjs"), { workerData: order });

/**
 * Renders, one after another, each in a worker thread; the queue is PostgreSQL's own, so that it survives the process.
 */
export class RenderQueue {
  private readonly boss: PgBoss;
  private ready: Promise<void> | null = null;
  private readonly running = new Map<number, Worker>();
  private stopped = false;

  constructor(
    private readonly db: Database,
    client: PGlite,
    private readonly deadline: Deadline = PATIENCE,
    private readonly startWorker: StartWorker = startRenderWorker,
  ) {
    const executeSql = async (text: string, values?: unknown[]) => {
      if (values?.length) return client.query(text, values as unknown[]);
      const results = await client.exec(text);
      return results.at(-1) ?? { rows: [] };
    };
    this.boss = new PgBoss({ db: { executeSql: executeSql as never }, supervise: true });
    this.boss.on("error", (error) => this.stopped || console.error(`Render queue: ${error.message}`));
  }

  /** Begins to work; a queue that cannot (a full disk) tries again until it can. */
  start(): void {
    this.ready ??= this.persist("start", async () => {
      await this.boss.start();
      await this.boss.createQueue(QUEUE);
      await this.boss.purgeQueue(QUEUE);
      // What a killed server left is taken up again; finished frames are kept.
      for (const render of await unfinishedRenders(this.db)) {
        await moveRender(this.db, render.id, ["running"], { state: "queued" });
        await this.send(render.id);
      }
      await this.boss.work<{ id: number }>(QUEUE, { pollingIntervalSeconds: 0.5 }, async ([job]) =>
        this.perform(job!.data.id),
      );
    });
  }

  /** Ends what runs, to be gone on with at the next start. */
  async stop(): Promise<void> {
    this.stopped = true;
    const workers = [...this.running.values()];
    await Promise.all(workers.map((worker) => worker.terminate()));
    await this.boss.stop({ graceful: false, close: false, wait: false }).catch(() => {});
  }

  /** Does what must be done in the end, again and again until it is. */
  private async persist(what: string, work: () => Promise<unknown>): Promise<void> {
    while (!this.stopped) {
      try {
        await work();
        return;
      } catch (error) {
        console.error(`Render queue: ${what}: ${(error as Error).message}`);
        await pause(this.deadline.retry);
      }
    }
  }

  private async send(id: number): Promise<void> {
    await this.boss.send(QUEUE, { id }, { expireInHours: EXPIRE_HOURS, retryLimit: 0 });
  }

  /** Queues a render, with what it names as that is now. */
  async add(order: Omit<Parameters<typeof addRender>[1], "snapshot">): Promise<Render> {
    const found = await findShot(this.db, order.shotId);
    const encoding = order.encoding ?? null;
    const snapshot = found && (await snapshotOf(this.db, order.look, found, encoding));
    const render = await addRender(this.db, {
      ...order,
      snapshot,
      stem: order.stem ?? (found && stemOfShot(found.shot)),
    });
    this.start();
    void this.ready!.then(() => this.persist(`send ${render.id}`, () => this.send(render.id)));
    return render;
  }

  async cancel(id: number): Promise<boolean> {
    const moved = await moveRender(this.db, id, ["queued", "running"], { state: "cancelled", ended: new Date() });
    const worker = this.running.get(id);
    if (moved && worker) {
      worker.postMessage("stop");
      setTimeout(() => void worker.terminate(), this.deadline.grace).unref();
    }
    return moved;
  }

  /**
   * Queues what failed or was cancelled once more: frames that are finished stay, the others are made. False where it
   * is nothing of the kind.
   */
  async again(id: number): Promise<boolean> {
    if (this.running.has(id)) return false;
    const moved = await moveRender(this.db, id, ["failed", "cancelled"], { state: "queued", failed: [], ended: null });
    if (!moved) return false;
    this.start();
    void this.ready!.then(() => this.persist(`send ${id}`, () => this.send(id)));
    return true;
  }

  isRunning(id: number): boolean {
    return this.running.has(id);
  }

  private async orderFor(render: Render): Promise<RenderOrder | null> {
    const found = await findShot(this.db, render.shotId);
    if (!found) return null;
    return renderOrder(this.db, found, { ...render, output: join(folderOf(render), fileNameOf(render)) });
  }

  private async perform(id: number): Promise<void> {
    const render = await findRender(this.db, id);
    if (!render) return;
    if (!(await moveRender(this.db, id, ["queued"], { state: "running", started: new Date(), failed: [] }))) return;
    const fail = (reason: string) =>
      this.persist(`end ${id}`, () =>
        moveRender(this.db, id, ["running"], { state: "failed", failed: [{ frame: 0, reason }], ended: new Date() }),
      );
    try {
      const order = await this.orderFor(render);
      if (!order) return await fail("its shot is not there any more");
      mkdirSync(folderOf(render), { recursive: true });
      const problem = await this.runWorker(id, order);
      if (problem) await fail(problem);
    } catch (error) {
      await fail((error as Error).message);
    } finally {
      await sweepUnfinished(folderOf(render));
      // A folder that is gone meanwhile needs no rights.
      await share(folderOf(render)).catch(() => {});
    }
  }

  /** Runs a render in a worker to its end, whichever. Gives what went wrong with the worker itself, or null. */
  private async runWorker(id: number, order: RenderOrder): Promise<string | null> {
    const worker = this.startWorker(order);
    this.running.set(id, worker);
    let problem: string | null = null;
    let ended = false;
    let writing: Promise<unknown> = Promise.resolve();
    let progress: Partial<Render> | null = null;
    // Only the newest progress is written; a database that is slow or full does not heap them up.
    const writeProgress = async () => {
      const change = progress;
      progress = null;
      if (change) await updateRender(this.db, id, change).catch(() => {});
    };
    const heard = setInterval(
      () => {
        if (steadyNow() - last < this.deadline.silence) return;
        problem = `nothing was heard of it for ${Math.round(this.deadline.silence / 60_000)} minutes, and it was ended`;
        void worker.terminate();
      },
      Math.min(5000, this.deadline.silence),
    ).unref();
    let last = steadyNow();
    worker.on("message", ({ done, failed, framesPerSecond, losses, ended: isEnd }: RenderReport) => {
      last = steadyNow();
      progress = { done, failed, framesPerSecond, losses };
      writing = writing.then(writeProgress);
      if (!isEnd) return;
      ended = true;
      const state = failed.length ? "failed" : "done";
      writing = writing.then(() =>
        this.persist(`end ${id}`, () =>
          moveRender(this.db, id, ["running"], { done, failed, state, ended: new Date() }),
        ),
      );
    });
    worker.on("error", (error) => (problem = error.message));
    await new Promise<void>((resolve) => worker.once("exit", () => resolve()));
    clearInterval(heard);
    this.running.delete(id);
    await writing;
    // A stopped server goes on with it at its next start.
    if (this.stopped || ended) return null;
    return problem ?? "its worker ended before it was done";
  }
}
