import { sql } from "drizzle-orm";
import { existsSync, mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { afterEach, describe, expect, test, vi } from "vitest";
import type { OwnEncoding } from "../../core/colour/own-encoding";
import { ENGINE_VERSION } from "../../core/engine/version";
import { LAMP_ROOM_LOG } from "../../demo/encodings";
import { demoProfiles } from "../../demo/glass/profiles";
import type { Database } from "../../store/database";
import { beat, framesMade, leasePortion } from "../../store/farm";
import { addShippedProfiles } from "../../store/profiles";
import { findRender, listRenders, moveRender, removeShot, updateShots } from "../../store/queries";
import { putEncoding, putTable } from "../../store/colour";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { removeShotNamed } from "../removal/remove";
import type { StartThread } from "../render/thread";
import type { RenderOrder } from "../render/worker";
import { bringRendersAlong, renderQueue } from "./queue";
import { startWorker, type WorkerOptions } from "./worker";

/** A render's thread that behaves as its look's name says. */
const PROGRAM = `
  const { parentPort, workerData } = require("node:worker_threads");
  const how = workerData.look.name;
  const say = (said) => parentPort.postMessage(said);
  const made = (frame) => say({
    kind: "frame",
    result: { frame, file: "s." + frame + ".png", recipe: "r", bytes: 1, sha256: "0", reason: null },
    framesPerSecond: 1,
  });
  const failed = (frame, reason) => say({
    kind: "frame",
    result: { frame, file: null, recipe: null, bytes: null, sha256: null, reason },
    framesPerSecond: 1,
  });
  let isStopped = false;
  parentPort.on("message", async (told) => {
    if (told.kind === "end") return parentPort.close();
    if (told.kind === "stop") isStopped = true;
    if (told.kind === "close") return say({ kind: "ended", read: null });
    if (told.kind !== "make") return;
    isStopped = false;
    const done = new Set(told.made.map(({ file }) => file));
    for (const [first, last] of told.frames)
      for (let frame = first; frame <= last && !isStopped; frame++) {
        if (done.has("s." + frame + ".png")) continue;
        made(frame);
        if (how === "throws") throw new Error("it broke");
        if (how === "silent end") process.exit(0);
        if (how === "odd") for (const reason of ["a\\0b", "c".repeat(2000)]) failed(frame, reason);
        if (how === "hangs") for (;;);
        if (how === "slow") await new Promise((resolve) => setTimeout(resolve, 50));
      }
    say({ kind: "ended", read: { input: [], plates: [] } });
  });
`;
const deadline = { grace: 300, silence: 700 };
const rhythm = { asks: 50, beats: 50, idleBeats: 50, enters: 20, retries: 50 };
const order = (name: string, frames: [number, number][] = [[1, 2]]) => ({
  ...{ shotId: "s", versionName: "v", format: "png", depth: "8" as const, frames },
  look: { ...lookOf([]), name },
});
const start: StartThread = (workerData) => new Worker(PROGRAM, { eval: true, workerData });

let close: () => Promise<unknown> = async () => {};
afterEach(() => close());

function working(db: Database, options: WorkerOptions = {}) {
  const worker = startWorker(db, { deadline, rhythm, start, ...options });
  close = () => worker.stop(0);
  return worker;
}
async function openQueue() {
  const store = await openTestStore();
  await addTestShot(store.db, "s", { frames: [[1, 40]] });
  const worker = working(store.db);
  const stateOf = async (id: number) => (await findRender(store.db, id))!.state;
  const is = (id: number, state: string) =>
    vi.waitFor(async () => expect(await stateOf(id)).toBe(state), { timeout: 10_000, interval: 50 });
  return { ...store, worker, queue: renderQueue(store.db, worker.nudge), is };
}

describe("the queue", () => {
  test("goes on with the next, whatever became of the one before; nothing is left running", async () => {
    const { db, queue, folder } = await openQueue();
    const names = ["good", "throws", "silent end", "hangs", "good"];
    const renders: Awaited<ReturnType<typeof queue.add>>[] = [];
    for (const name of names) renders.push(await queue.add(order(name)));
    const unfinished = join(folder, "renders", renders[3]!.folder, ".out.0001.png.abcd.part");
    mkdirSync(join(unfinished, ".."), { recursive: true });
    writeFileSync(unfinished, "half");
    const states = () => Promise.all(renders.map(async ({ id }) => (await findRender(db, id))!));
    await vi.waitFor(async () => expect((await states()).every(({ ended }) => ended)).toBe(true), 20_000);
    const isSilent = expect.stringMatching(/nothing was heard of it/) as string;
    expect((await states()).map(({ state, done, failed }) => [state, done, failed])).toEqual([
      ["done", 2, []],
      ["failed", 1, [{ frame: 2, reason: "it broke" }]],
      ["failed", 1, [{ frame: 2, reason: "its thread ended before it was done" }]],
      ["failed", 1, [{ frame: 2, reason: isSilent }]],
      ["done", 2, []],
    ]);
    expect(existsSync(unfinished)).toBe(false);
  }, 30_000);
  test("ends a thread that does not hear a cancel, and takes up the next", async () => {
    const { queue, is } = await openQueue();
    const hung = await queue.add(order("hangs"));
    const next = await queue.add(order("good"));
    await is(hung.id, "running");
    expect(await queue.cancel(hung.id)).toBe(true);
    expect(await queue.cancel(hung.id)).toBe(false);
    await is(next.id, "done");
    await is(hung.id, "cancelled");
  }, 30_000);
  test("makes what failed or was cancelled once more, and nothing that is done or still running", async () => {
    const { db, queue, is } = await openQueue();
    const broken = await queue.add(order("throws"));
    const good = await queue.add(order("good"));
    await is(good.id, "done");
    expect(await queue.again(good.id)).toBe(false);
    await moveRender(db, broken.id, ["failed"], { look: { ...lookOf([]), name: "good" } });
    expect(await queue.again(broken.id)).toBe(true);
    await is(broken.id, "done");
    expect(await findRender(db, broken.id)).toMatchObject({ failed: [], done: 2 });
    const hung = await queue.add(order("hangs"));
    await is(hung.id, "running");
    await queue.cancel(hung.id);
    expect(await queue.again(hung.id)).toBe(false);
  }, 40_000);
  test("pauses, goes on where it was, and makes first what is to come first", async () => {
    const { db, queue, is } = await openQueue();
    const long = await queue.add(order("slow", [[1, 40]]));
    const short = await queue.add(order("slow", [[1, 4]]));
    const doneOf = async (id: number) => (await findRender(db, id))!.done;
    await vi.waitFor(async () => expect(await doneOf(long.id)).toBeGreaterThan(2), 10_000);
    await queue.pause(long.id, true);
    await is(short.id, "done");
    const before = await doneOf(long.id);
    expect(before).toBeLessThan(40);
    const urgent = await queue.add(order("slow", [[1, 4]]));
    await queue.pause(urgent.id, true);
    await queue.setPriority(urgent.id, 1);
    await queue.pause(urgent.id, false);
    await queue.pause(long.id, false);
    await is(urgent.id, "done");
    expect(await doneOf(long.id)).toBeLessThan(40);
    await is(long.id, "done");
    expect((await framesMade(db, long.id)).map(({ frame }) => frame)).toEqual(
      Array.from({ length: 40 }, (_, i) => i + 1),
    );
  }, 40_000);
  test("takes up what a stopped or a dead worker had in hand, and fails what has no shot any more", async () => {
    const { db, queue, worker, is } = await openQueue();
    const left = await queue.add(order("hangs"));
    await is(left.id, "running");
    await worker.stop(0);
    await is(left.id, "running");
    await moveRender(db, left.id, ["running"], { look: { ...lookOf([]), name: "good" } });
    // One that leases it and is not heard any more.
    const dead = { id: "dead", name: "dead", host: "h", pid: 1, program: "p", engine: ENGINE_VERSION };
    await beat(db, dead, { renderId: null, frames: 0, framesPerSecond: null });
    const held = await leasePortion(db, dead);
    expect(held).toMatchObject({ renderId: left.id, kind: "frames" });
    const other = working(db);
    await new Promise((resolve) => setTimeout(resolve, 300));
    await is(left.id, "running");
    await db.execute(sql`update portions set leased_until = now() - interval '1 second'`);
    await is(left.id, "done");
    expect((await beat(db, dead, { renderId: null, frames: 0, framesPerSecond: null })).portions).toEqual([]);
    await removeShot(db, "s");
    const orphan = await renderQueue(db, other.nudge).add(order("good"));
    await is(orphan.id, "failed");
    expect((await findRender(db, orphan.id))!.failed[0]!.reason).toMatch(/its shot is not there/);
  }, 40_000);
  test("a reason is entered whatever it holds, and a frame once whatever is told of it", async () => {
    const { db, queue, is } = await openQueue();
    const odd = await queue.add(order("odd"));
    const good = await queue.add(order("good"));
    await is(odd.id, "failed");
    await is(good.id, "done");
    expect((await findRender(db, odd.id))!.failed).toEqual([1, 2].map((frame) => ({ frame, reason: "c".repeat(500) })));
  }, 30_000);
  test("what an earlier version of the program queued is cut into portions, and made", async () => {
    const { db, worker, is } = await openQueue();
    await worker.stop(0);
    const { id } = await renderQueue(db).add(order("good"));
    await db.execute(sql`delete from portions`);
    const other = working(db);
    await new Promise((resolve) => setTimeout(resolve, 200));
    await is(id, "queued");
    await bringRendersAlong(db);
    other.nudge();
    await is(id, "done");
    await bringRendersAlong(db);
    expect(await findRender(db, id)).toMatchObject({ state: "done", done: 2 });
  }, 30_000);
  test("gives nothing to a worker whose engine makes other pixels", async () => {
    const { db, queue, worker } = await openQueue();
    await worker.stop(0);
    const { id } = await queue.add(order("good"));
    const other = { id: "old", name: "old", host: "h", pid: 1, program: "0", engine: ENGINE_VERSION - 1 };
    expect(await leasePortion(db, other)).toBe(null);
    expect(await leasePortion(db, { ...other, engine: ENGINE_VERSION })).toMatchObject({ renderId: id });
  });
  test("renders with what was named when it was queued, whatever became of it while it waited", async () => {
    const store = await openTestStore();
    const { db } = store;
    const log = (slope: number): OwnEncoding => ({
      ...LAMP_ROOM_LOG,
      id: "own-log",
      log: { ...LAMP_ROOM_LOG.log, logSideSlope: slope },
    });
    await addTestShot(db, "s");
    await addShippedProfiles(db, demoProfiles());
    await putEncoding(db, log(0.2));
    await updateShots(db, ["s"], { encoding: "own-log" });
    await putTable(db, { id: "night", name: "Night", file: "night.cube", text: "before" });
    const orders: RenderOrder[] = [];
    const worker = working(db, {
      start: (workerData) => {
        orders.push(workerData);
        return start(workerData);
      },
    });
    const queue = renderQueue(db, worker.nudge);
    const first = await queue.add(order("hangs"));
    const glass = lookOf([{ kind: "diffusion", params: { profile: "milkglass" } }], { profile: "orrin-vale-50" });
    await addTestShot(db, "p", { frames: [[1, 3]] });
    const plate = lookOf([{ kind: "plate", params: { footage: "p" } }]).elements;
    const look = {
      ...glass,
      elements: [...glass.elements, ...plate],
      name: "good",
      view: { ...glass.view, kind: "lut" as const, lut: "night" },
    };
    const second = await queue.add({ ...order("good"), look });
    await vi.waitFor(async () => expect((await findRender(db, first.id))!.state).toBe("running"), 10_000);
    await putEncoding(db, log(0.4));
    await putTable(db, { id: "night", name: "Night", file: "night.cube", text: "after" });
    await updateShots(db, ["s"], { encoding: "srgb", gaps: "black" });
    await updateShots(db, ["p"], { encoding: "linear-ap1", firstFrame: 2 });
    await expect(removeShotNamed(db, "p")).rejects.toThrow(`p is laid over render ${second.id}`);
    await queue.cancel(first.id);
    await vi.waitFor(async () => expect((await findRender(db, second.id))!.state).toBe("done"), 10_000);
    expect(orders[1]).toMatchObject({
      encoding: "own-log",
      encodings: [log(0.2)],
      tables: [{ id: "night", text: "before" }],
      gaps: "hold",
      plates: [{ name: "p", encoding: "srgb", frames: [[1, 3]] }],
    });
    expect(orders[1]!.profiles.map(({ id }) => id).sort()).toEqual(["milkglass", "orrin-vale-50"]);
    const [listed] = await listRenders(db);
    expect(listed).toMatchObject({ id: second.id, summary: { view: { kind: "lut" } } });
    expect(listed).not.toHaveProperty("look");
    expect(listed).not.toHaveProperty("snapshot");
  }, 40_000);
});
