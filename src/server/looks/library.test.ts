import { beforeAll, describe, expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { lookOf as standing } from "../../store/queries";
import { changeLook, keepLook, libraryLook, libraryOf, putLooks, removeLook, currentLook } from "./library";

let db: Awaited<ReturnType<typeof openTestStore>>["db"];
const warm = { ...lookOf([{ kind: "grain" }]), name: "Warm", purpose: "For tests", tags: ["film"] };

beforeAll(async () => {
  ({ db } = await openTestStore());
  await addTestShot(db, "a");
  await addTestShot(db, "b");
});

describe("one's own looks", () => {
  test("stand beside the ready ones, with what they are for, until they are removed", async () => {
    const { id } = await keepLook(db, warm);
    const { looks } = await libraryOf(db);
    expect(looks.at(-1)).toMatchObject({ id, revision: 1, name: "Warm", purpose: "For tests", tags: ["film"] });
    expect(looks.filter(({ revision }) => revision === null).length).toBeGreaterThanOrEqual(14);
    await removeLook(db, id);
    expect((await libraryOf(db)).looks.some((look) => look.id === id)).toBe(false);
    await expect(removeLook(db, id)).rejects.toMatchObject({ kind: "missing" });
  });

  test("what ships with the application is not changed, nor one's own above somebody's newer change", async () => {
    const ready = (await libraryOf(db)).looks[0]!;
    await expect(removeLook(db, ready.id)).rejects.toMatchObject({ kind: "conflict" });
    const { id } = await keepLook(db, warm);
    expect(await changeLook(db, id, { ...warm, name: "Warmer" }, 1)).toMatchObject({ revision: 2 });
    await expect(changeLook(db, id, warm, 1)).rejects.toThrow("it is “Warmer” now");
  });
});

test("lists hold no looks, however large these are; each is told by itself", async () => {
  const kept = await keepLook(db, { ...warm, name: "Told" });
  const { looks, worn } = await libraryOf(db);
  expect(JSON.stringify([looks, worn])).not.toContain("elements");
  expect(await libraryLook(db, kept.id)).toEqual(kept);
  expect((await libraryLook(db, looks[0]!.id)).look.name).toBe(looks[0]!.name);
  expect((await currentLook(db, "b")).look.camera.sensor).toEqual({ width: 24.9, height: 14 });
  await expect(libraryLook(db, "none")).rejects.toMatchObject({ kind: "missing" });
  await expect(currentLook(db, "none")).rejects.toMatchObject({ kind: "missing" });
});

describe("looks put on several shots", () => {
  test("are put on all of them, each with its own shot's camera", async () => {
    const other = { ...warm, camera: { sensor: { width: 36, height: 24 }, squeeze: 2 } };
    const made = await putLooks(db, [
      { shotId: "a", look: other, revision: 1 },
      { shotId: "b", look: other, revision: 1 },
    ]);
    expect(made).toEqual({ a: 2, b: 2 });
    const { look } = (await standing(db, "b"))!;
    expect(look).toMatchObject({ name: "Warm", camera: { sensor: { width: 24.9, height: 14 }, squeeze: 1 } });
  });

  test("are put on none where one of them was changed meanwhile, and it is said which", async () => {
    const put = [
      { shotId: "a", look: { ...warm, name: "Second" }, revision: 2 },
      { shotId: "b", look: { ...warm, name: "Second" }, revision: 1 },
    ];
    await expect(putLooks(db, put)).rejects.toMatchObject({ kind: "conflict", more: { overtaken: ["b"] } });
    expect((await standing(db, "a"))!).toMatchObject({ revision: 2, look: { name: "Warm" } });
    await expect(putLooks(db, [{ shotId: "none", look: warm, revision: 1 }])).rejects.toMatchObject({
      kind: "missing",
    });
  });
});
