import { beforeEach, describe, expect, test } from "vitest";
import { setAt, valueAt } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { lookOf } from "@/testing/laboratory";
import { createDocument, RETRY_AFTER, SAVE_AFTER } from "./document";
import { settled, TestWorld } from "./test-world";

const camera = { sensorWidth: 24.9, sensorHeight: 14, squeeze: 1 };
const first = lookOf([{ kind: "glow", params: { threshold: 2 } }]);
const named = (name: string): Look => ({ ...first, name });

let world: TestWorld;
let document: ReturnType<typeof createDocument>;
const state = () => document.store.getState();
const threshold = () => valueAt(state().look!, ["e0", "threshold"]);
const put = (value: number) => document.commit((look) => setAt(look, ["e0", "threshold"], value, 1));
const names = () => world.sent.map(({ saved }) => saved.look.name);

beforeEach(async () => {
  world = new TestWorld(first);
  document = createDocument(world);
  await document.open("s", camera, null);
});

describe("an edit", () => {
  test("is applied to what stands when it is made: what took its time loses nothing that came between", async () => {
    const slow = settled().then(() => document.commit((look) => ({ ...look, name: "Brought in" })));
    put(5);
    await slow;
    expect([state().look!.name, threshold()]).toEqual(["Brought in", 5]);
  });
  test("that took its time is none of another shot which was opened meanwhile", async () => {
    const opened = document.open("t", camera, null);
    const edit = (look: Look): Look => ({ ...look, name: "Of the first" });
    expect(document.commit(edit, "s")).toBe(false);
    await opened;
    expect(document.commit(edit, "s")).toBe(false);
    expect(document.commitWithOthers(edit, { before: [], after: [] }, "s")).toBe(false);
    expect([state().look!.name, state().past.length]).toEqual([first.name, 0]);
    expect(document.commit(edit, "t")).toBe(true);
    expect(state().look!.name).toBe("Of the first");
  });
  test("keeps the shot's camera, whatever it brings along", () => {
    document.commit(() => ({ ...named("Other"), camera: { sensor: { width: 36, height: 24 }, squeeze: 2 } }));
    expect(state().look!.camera).toEqual({ sensor: { width: 24.9, height: 14 }, squeeze: 1 });
  });
  test("within one gesture is one step, and one that changes nothing is none", () => {
    world.hand = {};
    for (const value of [3, 4, 5]) put(value);
    world.hand = {};
    put(6);
    document.commit((look) => look);
    expect(state().past).toHaveLength(2);
    document.undo();
    expect(threshold()).toBe(5);
    document.undo();
    expect(threshold()).toBe(2);
    document.redo();
    document.redo();
    expect(threshold()).toBe(6);
  });
  test("over several shots is one step: undo puts back what the others wore", () => {
    const before = [{ shotId: "t", look: named("Before"), revision: 1 }];
    const after = [{ shotId: "t", look: named("After"), revision: 1 }];
    world.hand = {};
    put(3);
    document.commitWithOthers((look) => ({ ...look, name: "After" }), { before, after });
    expect(state().past).toHaveLength(2);
    document.undo();
    expect([state().look!.name, threshold()]).toEqual([first.name, 3]);
    document.redo();
    expect(world.others).toEqual([before, after]);
  });
  test("after an undo leaves nothing to redo, and no more than 200 steps are kept, the newest", () => {
    put(3);
    document.undo();
    put(4);
    document.redo();
    expect([threshold(), state().future]).toEqual([4, []]);
    for (let value = 0; value < 250; value++) put(value / 100);
    expect(state().past).toHaveLength(200);
    document.undo();
    expect(threshold()).toBe(2.48);
  });
  test("of depth is undone with the look", () => {
    const depth = { footage: "z" } as never;
    document.commitDepth(depth);
    expect(state().look!.depth).toEqual(depth);
    document.undo();
    expect([state().depth, state().look!.depth]).toEqual([null, undefined]);
  });
});

describe("saving", () => {
  test("waits for the hand to rest, sends one look after another, and the newest last", async () => {
    put(3);
    expect(state().saving).toBe("saving");
    await world.pass(SAVE_AFTER - 1);
    expect(world.sent).toHaveLength(0);
    document.commit(() => named("A"));
    await world.pass(SAVE_AFTER);
    document.commit(() => named("B"));
    await world.pass(SAVE_AFTER);
    document.commit(() => named("C"));
    expect(names()).toEqual(["A"]);
    await world.sent[0]!.answer(2);
    await world.pass(0);
    expect(names()).toEqual(["A", "C"]);
    expect(world.sent[1]!.saved.revision).toBe(2);
    await world.sent[1]!.answer(3);
    expect(state().saving).toBe("saved");
    expect(world.announced).toEqual([
      { shotId: "s", revision: 2 },
      { shotId: "s", revision: 3 },
    ]);
  });
  test("what is undone before it was sent is not sent", async () => {
    put(3);
    document.undo();
    await world.pass(SAVE_AFTER);
    expect([world.sent.length, state().saving]).toEqual([0, "saved"]);
  });
  test("that fails is kept, told of and tried again", async () => {
    put(3);
    await world.pass(SAVE_AFTER);
    await world.sent[0]!.answer({ code: "unreachable" });
    expect([state().saving, state().problem]).toEqual(["failed", null]);
    expect(world.kept!.revision).toBe(1);
    await world.pass(RETRY_AFTER);
    await world.sent[1]!.answer({ code: "refused", why: "The disk is full" });
    expect(state().problem).toBe("The disk is full");
    await world.pass(RETRY_AFTER);
    await world.sent[2]!.answer(2);
    expect([state().saving, state().problem, world.kept]).toEqual(["saved", null, null]);
  });
  test("does not wait where the shot is left, not even for a save that is under way", async () => {
    document.commit(() => named("A"));
    await world.pass(SAVE_AFTER);
    document.commit(() => named("B"));
    document.leave();
    expect(world.kept!.look.name).toBe("B");
    world.stands = { look: first, revision: 9 };
    const other = document.open("t", camera, null);
    await world.sent[0]!.answer(2);
    await other;
    // A page that is gone by now would find it again, above what was saved.
    expect(world.kept).toMatchObject({ look: { name: "B" }, revision: 2 });
    expect(world.sent[1]).toMatchObject({ saved: { revision: 2, look: { name: "B" } }, leaving: true });
    await world.sent[1]!.answer(3);
    expect([state().shotId, state().saving, world.kept]).toEqual(["t", "saved", null]);
  });
  test("of a shot that is left ends before it is opened again", async () => {
    document.commit(() => named("A"));
    document.leave();
    const again = document.open("s", camera, null);
    await settled();
    expect(state().look).toBeNull();
    await world.sent[0]!.answer(2);
    expect(await again).toBe(true);
    await world.pass(SAVE_AFTER);
    expect([state().look!.name, state().saving, world.sent.length]).toEqual(["A", "saved", 1]);
  });
});

describe("another window", () => {
  const theirs = { look: named("Theirs"), revision: 2 };
  test("is followed where this one has nothing of its own; undo leads back", async () => {
    world.stands = theirs;
    await document.check({ shotId: "s", revision: 2 });
    expect([state().look!.name, state().conflict, world.said.length]).toEqual(["Theirs", null, 1]);
    document.undo();
    await world.pass(SAVE_AFTER);
    expect(world.sent[0]!.saved).toMatchObject({ revision: 2, look: { name: first.name } });
  });
  test("of another shot, or with what was heard before, is none of it", async () => {
    world.stands = theirs;
    await document.check({ shotId: "t", revision: 2 });
    await document.check({ shotId: "s", revision: 1 });
    expect(state().look!.name).toBe(first.name);
  });
  test.each(["mine", "theirs"] as const)(
    "and this one changed it: nothing is saved until it is said, here %s",
    async (which) => {
      document.commit(() => named("Mine"));
      await world.pass(SAVE_AFTER);
      await world.sent[0]!.answer({ code: "overtaken", theirs });
      expect([state().saving, state().conflict]).toEqual(["conflict", theirs]);
      document.commit(() => named("Mine, later"));
      await world.pass(10_000);
      expect(world.sent).toHaveLength(1);
      document.settle(which);
      await world.pass(SAVE_AFTER);
      if (which === "theirs") {
        expect([state().look!.name, state().saving, world.sent.length]).toEqual(["Theirs", "saved", 1]);
        document.undo();
        expect(state().look!.name).toBe("Mine, later");
      } else expect(world.sent[1]!.saved).toMatchObject({ revision: 2, look: { name: "Mine, later" } });
    },
  );
});

describe("opening", () => {
  test("brings back what a closed window could not save, above what it was made from", async () => {
    world.kept = { look: named("Left"), revision: 1 };
    await document.open("s", camera, null);
    expect([state().look!.name, world.said.length]).toEqual(["Left", 1]);
    await world.pass(SAVE_AFTER);
    expect(world.sent[0]!.saved.look.name).toBe("Left");
    world.kept = { look: named("Left"), revision: 1 };
    world.stands = { look: named("Newer"), revision: 5 };
    await document.open("s", camera, null);
    expect(state()).toMatchObject({ look: { name: "Left" }, conflict: { revision: 5 }, saving: "conflict" });
  });
  test("before what was sent last has arrived is no conflict with oneself", async () => {
    world.kept = { look: named("Left"), revision: 1 };
    await document.open("s", camera, null);
    document.commit(() => named("Later"));
    await world.pass(SAVE_AFTER);
    await world.sent[0]!.answer({ code: "overtaken", theirs: { look: named("Left"), revision: 2 } });
    await world.pass(0);
    expect([state().conflict, world.sent[1]!.saved]).toMatchObject([null, { revision: 2, look: { name: "Later" } }]);
    await world.sent[1]!.answer({ code: "overtaken", theirs: { look: named("Later"), revision: 3 } });
    await world.pass(0);
    expect([state().saving, state().conflict, world.sent.length]).toEqual(["saved", null, 2]);
  });
  test("that comes late is none", async () => {
    const late = document.open("a", camera, null);
    const newest = document.open("b", camera, null);
    expect([await late, await newest, state().shotId]).toEqual([false, true, "b"]);
  });
  test("a camera that is changed with its shot is no step, and nothing to save", async () => {
    document.wear({ ...camera, squeeze: 2 }, null);
    await world.pass(SAVE_AFTER);
    expect([state().look!.camera.squeeze, state().past.length, world.sent.length]).toEqual([2, 0, 0]);
    put(3);
    document.undo();
    expect(state().look!.camera.squeeze).toBe(2);
    await world.pass(SAVE_AFTER);
    expect(world.sent).toHaveLength(0);
  });
});
