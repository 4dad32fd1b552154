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
  listEncodings,
  listProfiles,
  listTables,
  moveRender,
  type Render,
  unfinishedRenders,
  updateRender,
} from "../../store/queries";
import { platesIn } from "../../core/look/glass";
import { choiceFor, footagePattern } from "../footage/shot";
import { built, dataRoot } from "../root";
import type { RenderOrder, RenderReport } from "./worker";

const QUEUE = "renders";
/** A render that says nothing for this long is taken to be dead by the queue, in hours. */
const EXPIRE_HOURS = 12;

export const rendersFolder = () => join(dataRoot(), "renders");

/** Renders, one after another, each in a worker thread; the queue is PostgreSQL's own, so that it survives the process. */
export class RenderQueue {
  private readonly boss: PgBoss;
  private ready: Promise<void> | null = null;
  private readonly running = new Map<number, Worker>();

  constructor(
    private readonly db: Database,
    client: PGlite,
  ) {
    const executeSql = async (text: string, values?: unknown[]) => {
      if (values?.length) return client.query(text, values as unknown[]);
      const results = await client.exec(text);
      return results.at(-1) ?? { rows: [] };
    };
    this.boss = new PgBoss({ db: { executeSql: executeSql as never }, supervise: true });
    this.boss.on("error", (error) => console.error(`Render queue: ${error.message}`));
  }

  start(): void {
    this.ready ??= (async () => {
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
    })();
    this.ready.catch((error: Error) => console.error(`Render queue: ${error.message}`));
  }

  private async send(id: number): Promise<void> {
    await this.boss.send(QUEUE, { id }, { expireInHours: EXPIRE_HOURS, retryLimit: 0 });
  }

  async add(order: Omit<Parameters<typeof addRender>[1], "folder">): Promise<Render> {
    const render = await addRender(this.db, { ...order, folder: "" });
    const folder = `${order.shotId}-${String(render.id).padStart(4, "0")}`;
    await updateRender(this.db, render.id, { folder });
    this.start();
    void this.ready!.then(() => this.send(render.id));
    return { ...render, folder };
  }

  async cancel(id: number): Promise<boolean> {
    const moved = await moveRender(this.db, id, ["queued", "running"], { state: "cancelled", ended: new Date() });
    this.running.get(id)?.postMessage("stop");
    return moved;
  }

  /** Shots that a look lays over others; one that is gone is left out, and its frames fail by name. */
  private async platesOf(look: Render["look"]): Promise<RenderOrder["plates"]> {
    const found = await Promise.all(
      [...new Set(platesIn(look))].map(async (name) => ({ name, found: await findShot(this.db, name) })),
    );
    return found.flatMap(({ name, found }) =>
      found
        ? [
            {
              name,
              input: footagePattern(found.footage),
              choice: choiceFor(found.shot, found.footage),
              gaps: found.shot.gaps,
              encoding: found.shot.encoding,
            },
          ]
        : [],
    );
  }

  private async perform(id: number): Promise<void> {
    const render = await findRender(this.db, id);
    const found = render && (await findShot(this.db, render.shotId));
    if (
      !render ||
      !found ||
      !(await moveRender(this.db, id, ["queued"], { state: "running", started: new Date(), failed: [] }))
    )
      return;
    const out = join(rendersFolder(), render.folder);
    mkdirSync(out, { recursive: true });
    const profiles = (await listProfiles(this.db)).map(({ body }) => body);
    const { shot, footage } = found;
    const name = render.format === "y4m" ? `${render.shotId}.y4m` : `${render.shotId}.%04d.${render.format}`;
    const order: RenderOrder = {
      look: render.look,
      profiles,
      plates: await this.platesOf(render.look),
      frames: render.frames,
      encodings: (await listEncodings(this.db)).map(({ body }) => body),
      tables: await listTables(this.db),
      input: footagePattern(footage),
      choice: choiceFor(shot, footage),
      gaps: shot.gaps,
      output: join(out, name),
      encoding: shot.encoding,
      outEncoding: render.encoding,
      depth: render.depth,
      compression: render.compression ?? undefined,
      framesPerSecond: shot.frameRate,
    };
    await new Promise<void>((resolve) => {
      const worker = new Worker(built("render-worker.mjs"), { workerData: order });
      this.running.set(id, worker);
      let writing = Promise.resolve();
      const write = (change: Partial<Render>, end = false) => {
        writing = writing.then(async () => {
          if (end) await moveRender(this.db, id, ["running"], change);
          else await updateRender(this.db, id, change);
        });
      };
      worker.on("message", ({ done, failed, framesPerSecond, ended }: RenderReport) => {
        write({ done, failed, framesPerSecond });
        if (ended) write({ state: failed.length ? "failed" : "done", ended: new Date() }, true);
      });
      worker.on("error", (error) =>
        write({ state: "failed", failed: [{ frame: 0, reason: error.message }], ended: new Date() }, true),
      );
      worker.on("exit", () => {
        this.running.delete(id);
        void writing.then(resolve);
      });
    });
  }
}
