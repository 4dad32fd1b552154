import { existsSync, mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { afterEach, describe, expect, test, vi } from "vitest";
import type { OwnEncoding } from "../../core/colour/own-encoding";
import { LAMP_ROOM_LOG } from "../../demo/encodings";
import { demoProfiles } from "../../demo/glass/profiles";
import { addShippedProfiles } from "../../store/profiles";
import { findRender, listRenders, moveRender, removeShot, updateShots } from "../../store/queries";
import { putEncoding, putTable } from "../../store/colour";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { removeShotNamed } from "../removal/remove";
import { RenderQueue } from "./queue";
import type { RenderOrder } from "./worker";

/** Workers that behave as their look's name says. */
const PROGRAM = `
  const { parentPort, workerData } = require("node:worker_threads");
  const say = (done, ended) => parentPort.postMessage({ done, failed: [], framesPerSecond: 1, ended });
  const how = workerData.look.name;
  say(1, false);
  if (how === "good") { say(2, true); parentPort.close(); }
  if (how === "throws") throw new Error("it broke");
  if (how === "silent end") process.exit(0);
  if (how === "hangs") for (;;);
`;
const deadline = { grace: 300, silence: 700, retry: 50 };
const order = (name: string) => ({
  shotId: "s",
  versionName: "v",
  look: { ...lookOf([]), name },
  format: "png",
  depth: "8" as const,
  frames: [[1, 2]] as [number, number][],
});

let close: () => Promise<unknown> = async () => {};
afterEach(() => close());

async function openQueue() {
  const store = await openTestStore();
  await addTestShot(store.db, "s");
  const queue = new RenderQueue(
    store.db,
    store.client,
    deadline,
    (workerData) => new Worker(PROGRAM, { eval: true, workerData }),
  );
  close = () => queue.stop();
  return { ...store, queue };
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
    expect((await states()).map(({ state, failed }) => [state, failed[0]?.reason])).toEqual([
      ["done", undefined],
      ["failed", "it broke"],
      ["failed", "its worker ended before it was done"],
      ["failed", expect.stringMatching(/nothing was heard of it/)],
      ["done", undefined],
    ]);
    expect(existsSync(unfinished)).toBe(false);
  }, 30_000);
  test("ends a worker that does not hear a cancel, and takes up the next", async () => {
    const { db, queue } = await openQueue();
    const hung = await queue.add(order("hangs"));
    const next = await queue.add(order("good"));
    await vi.waitFor(async () => expect((await findRender(db, hung.id))!.state).toBe("running"), 10_000);
    expect(await queue.cancel(hung.id)).toBe(true);
    expect(await queue.cancel(hung.id)).toBe(false);
    await vi.waitFor(async () => expect((await findRender(db, next.id))!.state).toBe("done"), 10_000);
    expect((await findRender(db, hung.id))!.state).toBe("cancelled");
  }, 30_000);
  test("makes what failed or was cancelled once more, and nothing that is done or still running", async () => {
    const { db, queue } = await openQueue();
    const broken = await queue.add(order("throws"));
    const good = await queue.add(order("good"));
    const stateOf = async (id: number) => (await findRender(db, id))!.state;
    await vi.waitFor(async () => expect(await stateOf(good.id)).toBe("done"), 10_000);
    expect(await queue.again(good.id)).toBe(false);
    await moveRender(db, broken.id, ["failed"], { look: { ...lookOf([]), name: "good" } });
    expect(await queue.again(broken.id)).toBe(true);
    await vi.waitFor(async () => expect(await stateOf(broken.id)).toBe("done"), 10_000);
    expect((await findRender(db, broken.id))!.failed).toEqual([]);
    const hung = await queue.add(order("hangs"));
    await vi.waitFor(async () => expect(await stateOf(hung.id)).toBe("running"), 10_000);
    await queue.cancel(hung.id);
    expect(await queue.again(hung.id)).toBe(false);
  }, 40_000);
  test("takes up what a killed server left running, and fails what has no shot any more", async () => {
    const { db, client, queue } = await openQueue();
    const left = await queue.add(order("hangs"));
    await vi.waitFor(async () => expect((await findRender(db, left.id))!.state).toBe("running"), 10_000);
    await queue.stop();
    expect((await findRender(db, left.id))!.state).toBe("running");
    await moveRender(db, left.id, ["running"], { look: { ...lookOf([]), name: "good" } });
    const again = new RenderQueue(
      db,
      client,
      deadline,
      (workerData) => new Worker(PROGRAM, { eval: true, workerData }),
    );
    close = () => again.stop();
    again.start();
    await vi.waitFor(async () => expect((await findRender(db, left.id))!.state).toBe("done"), 10_000);
    await removeShot(db, "s");
    const orphan = await again.add(order("good"));
    await vi.waitFor(async () => expect((await findRender(db, orphan.id))!.state).toBe("failed"), 10_000);
    expect((await findRender(db, orphan.id))!.failed[0]!.reason).toMatch(/its shot is not there/);
  }, 40_000);
  test("renders with what was named when it was queued, whatever became of it while it waited", async () => {
    const store = await openTestStore();
    const { db, client } = store;
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
    const queue = new RenderQueue(db, client, deadline, (workerData) => {
      orders.push(workerData);
      return new Worker(PROGRAM, { eval: true, workerData });
    });
    close = () => queue.stop();
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
