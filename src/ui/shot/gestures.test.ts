import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { setAt, valueAt } from "@/core/look/edit";
import { lookOf } from "@/testing/laboratory";
import { createDocument, type LookDocument } from "../document/document";
import { settled, TestWorld } from "../document/test-world";
import { currentGesture, hearGestures } from "./gestures";

const look = lookOf([{ kind: "glow", params: { threshold: 2 } }]);
let lookDocument: LookDocument;
const state = () => lookDocument.store.getState();
const threshold = () => valueAt(state().look!, ["e0", "threshold"]);
const set = (value: number) => lookDocument.commit((now) => setAt(now, ["e0", "threshold"], value, 1));

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
beforeEach(async () => {
  page = new Page();
  deafen = hearGestures(page as unknown as Window);
  const world = new TestWorld(look);
  world.gesture = currentGesture;
  lookDocument = createDocument(world);
  await lookDocument.open("s", { sensorWidth: 24.9, sensorHeight: 14, squeeze: 1 }, null);
});
afterEach(() => deafen());

describe("undo goes by gestures", () => {
  test("a drag is one step, however long it takes and however often it says something", async () => {
    page.say("pointerdown", slider);
    for (const value of [3, 4, 5]) set(value);
    page.say("pointerup", slider);
    set(6);
    await settled();
    lookDocument.undo();
    expect(threshold()).toBe(2);
    lookDocument.redo();
    expect(threshold()).toBe(6);
  });
  test("two drags of one control are two steps", async () => {
    for (const value of [3, 4]) {
      page.say("pointerdown", slider);
      set(value);
      page.say("pointerup", slider);
      await settled();
    }
    lookDocument.undo();
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
    while (state().past.length) {
      lookDocument.undo();
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
    expect(state().past.length).toBe(4);
  });
});
