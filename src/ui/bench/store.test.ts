import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { setAt, valueAt } from "@/core/look/edit";
import { lookOf } from "@/testing/laboratory";
import { hearGestures } from "./gestures";
import { PICTURE } from "./inspect";
import { toggled, UNCOMPARED } from "../compare/compare";
import { useBench } from "./store";

const look = lookOf([{ kind: "glow", params: { threshold: 2 } }]);
const bench = () => useBench.getState();
const threshold = () => valueAt(bench().look!, ["e0", "threshold"]);
const set = (value: number) => bench().change(setAt(bench().look!, ["e0", "threshold"], value, 1));

const slider = Object.assign(new EventTarget(), { tagName: "INPUT" });
const other = Object.assign(new EventTarget(), { tagName: "INPUT" });
const button = Object.assign(new EventTarget(), { tagName: "BUTTON" });

/** The page, as far as gestures hear it: events with their target. */
class Page extends EventTarget {
  say(name: string, target: EventTarget, more: object = {}): void {
    const event = Object.assign(new Event(name), more);
    Object.defineProperty(event, "target", { value: target });
    for (const hear of this.heard.get(name) ?? []) hear(event);
  }
  private readonly heard = new Map<string, ((event: Event) => void)[]>();
  override addEventListener(name: string, hear: unknown): void {
    this.heard.set(name, [...(this.heard.get(name) ?? []), hear as (event: Event) => void]);
  }
  override removeEventListener(name: string): void {
    this.heard.delete(name);
  }
}
let page: Page;
let deafen: () => void;
beforeEach(() => {
  page = new Page();
  deafen = hearGestures(page as unknown as Window);
  bench().open({ look, depth: null, frame: 1, selected: "e0" });
});
afterEach(() => deafen());
const settled = () => new Promise((done) => setTimeout(done));

describe("undo goes by gestures", () => {
  test("a drag is one step, however long it takes and however often it says something", async () => {
    page.say("pointerdown", slider);
    for (const value of [3, 4, 5]) set(value);
    page.say("pointerup", slider);
    set(6);
    await settled();
    bench().undo();
    expect(threshold()).toBe(2);
    bench().redo();
    expect(threshold()).toBe(6);
  });
  test("two drags of one control are two steps", async () => {
    for (const value of [3, 4]) {
      page.say("pointerdown", slider);
      set(value);
      page.say("pointerup", slider);
      await settled();
    }
    bench().undo();
    expect(threshold()).toBe(3);
  });
  test("a run of keys in one field is one; Enter, another field and leaving it end it", () => {
    const nudge = (target: EventTarget, value: number, key = "ArrowUp") => {
      page.say("keydown", target, { key });
      set(value);
    };
    nudge(slider, 3);
    nudge(slider, 4);
    nudge(other, 5);
    nudge(other, 6, "Enter");
    nudge(other, 7);
    page.say("focusout", other);
    nudge(other, 8);
    const back = [];
    while (bench().past.length) {
      bench().undo();
      back.push(threshold());
    }
    expect(back).toEqual([7, 6, 5, 4, 2]);
  });
  test("what is said by no hand is a step by itself, and so is every press of a letter", () => {
    set(3);
    set(4);
    page.say("keydown", button, { key: "x" });
    set(5);
    page.say("keydown", button, { key: "x" });
    set(6);
    expect(bench().past.length).toBe(4);
  });
});

test("a change after an undo leaves nothing to redo", () => {
  set(3);
  bench().undo();
  set(4);
  bench().redo();
  expect(threshold()).toBe(4);
  expect(bench().future).toEqual([]);
});

test("distances from other footage are undone with the look, in turn", () => {
  const depth = { footage: "TL-050", reads: "distance", near: 0, far: 1 } as const;
  set(3);
  bench().change({ depth });
  set(4);
  bench().undo();
  expect([threshold(), bench().depth]).toEqual([3, depth]);
  bench().undo();
  expect([threshold(), bench().depth]).toEqual([3, null]);
  bench().undo();
  bench().redo();
  bench().redo();
  expect(bench().depth).toEqual(depth);
});

test("no more than 200 steps are kept, the newest", () => {
  for (let value = 0; value < 250; value++) set(value / 100);
  expect(bench().past.length).toBe(200);
  bench().undo();
  expect(threshold()).toBe(2.48);
});

test("another window's look is taken over as a step; one that is gone on with above it is none", () => {
  const theirs = setAt(look, ["e0", "threshold"], 7, 1);
  bench().takeOver(theirs);
  expect(threshold()).toBe(7);
  bench().undo();
  expect(threshold()).toBe(2);
  const mine = bench().look!;
  bench().resolve({ look: theirs, revision: 5 }, mine);
  expect(bench()).toMatchObject({ past: [], conflict: null, resolved: { revision: 5 } });
  bench().resolve({ look: theirs, revision: 6 }, theirs);
  expect(bench().past).toHaveLength(1);
});

test("selecting another element ends picking; opening another shot leaves nothing of the last one", () => {
  bench().set({ picking: { id: "area-1", before: null, take: () => {} } });
  bench().set({ frame: 3 });
  expect(bench().picking).not.toBeNull();
  bench().set({ selected: null });
  expect(bench().picking).toBeNull();
  set(3);
  bench().set({ compare: toggled(UNCOMPARED, "side"), inspect: { kind: "matte" }, playing: true });
  bench().open({ look, depth: null, frame: 9, selected: null });
  expect(bench()).toMatchObject({ past: [], compare: UNCOMPARED, inspect: PICTURE, playing: false, frame: 9 });
});
