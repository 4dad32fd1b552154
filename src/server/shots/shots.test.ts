import { afterEach, describe, expect, test } from "vitest";
import { findShot, lookOf as standingLook, saveLook } from "../../store/queries";
import { addProduction } from "../../store/productions";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { changeShots, toldShot } from "./shots";

let close: () => Promise<unknown> = async () => {};
afterEach(() => close());
async function opened(ids: string[]) {
  const { db, client } = await openTestStore();
  close = () => client.close();
  for (const id of ids)
    await addTestShot(db, id, {
      frames: [
        [1, 3],
        [7, 9],
      ],
    });
  return db;
}

describe("shots are changed together, or not at all", () => {
  test("with new revisions", async () => {
    const db = await opened(["a", "b"]);
    expect(await changeShots(db, ["a", "b"], { notes: "rain" }, { a: 1, b: 1 })).toEqual({ a: 2, b: 2 });
    expect((await findShot(db, "b"))!.shot).toMatchObject({ notes: "rain", revision: 2 });
  });
  test("not where one was changed since, is not there, or does not fit", async () => {
    const db = await opened(["a", "b"]);
    await changeShots(db, ["b"], { notes: "theirs" });
    const wrong: [string[], object, Record<string, number>, RegExp][] = [
      [["a", "b"], { notes: "mine" }, { a: 1, b: 1 }, /changed in another window/],
      [["a", "gone"], { notes: "mine" }, {}, /The shot gone is not there/],
      [["a", "b"], { firstFrame: 9, lastFrame: 2 }, {}, /in must not be after out/],
      [["a"], { firstFrame: 40 }, {}, /frames 1 to 9/],
      [["a"], { encoding: "nonsense" }, {}, /nonsense/],
      [["a"], { productionId: "gone" }, {}, /The production gone is not there/],
    ];
    for (const [ids, change, revisions, says] of wrong)
      await expect(changeShots(db, ids, change, revisions)).rejects.toThrow(says);
    expect((await findShot(db, "a"))!.shot).toMatchObject({ notes: "", revision: 1, firstFrame: null });
  });
});

test("shots go into another production, and are told to be in it", async () => {
  const db = await opened(["a", "b"]);
  await addProduction(db, "other", "Another");
  await changeShots(db, ["a"], { productionId: "other" });
  const told = async (id: string) => toldShot((await findShot(db, id))!).production.name;
  expect([await told("a"), await told("b")]).toEqual(["Another", "Production"]);
});

test("in and out bound the frames that are told, over gaps; what is refused where it is missing does not count", async () => {
  const db = await opened(["a"]);
  const frames = async () => toldShot((await findShot(db, "a"))!).frames;
  expect(await frames()).toEqual([[1, 9]]);
  await changeShots(db, ["a"], { firstFrame: 2, lastFrame: 8 });
  expect(await frames()).toEqual([[2, 8]]);
  await changeShots(db, ["a"], { gaps: "refuse" });
  expect(await frames()).toEqual([
    [2, 3],
    [7, 8],
  ]);
});

test("the view of an untouched look follows the encoding; one that was worked on stays", async () => {
  const db = await opened(["a", "b"]);
  const view = async (id: string) => (await standingLook(db, id))!.look.view.kind;
  await saveLook(db, "b", lookOf([{ kind: "trim" }]), 1);
  const before = [await view("a"), await view("b")];
  await changeShots(db, ["a", "b"], { encoding: "linear-ap1" });
  expect([await view("a"), await view("b")]).toEqual(["soft", before[1]]);
  await changeShots(db, ["a"], { encoding: "srgb" });
  expect(await view("a")).toBe("plain");
  expect((await findShot(db, "a"))!.shot.encodingReason).toBe("chosen by hand");
});
