import { existsSync, mkdirSync, mkdtempSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { listTables, putTable } from "../../store/colour";
import { addRender, findFootage, findShot, moveRender } from "../../store/queries";
import { keepVersion } from "../../store/versions";
import { addStill, keepLibraryLook, removeLibraryLook, removeStill } from "../../store/library";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { keepTable } from "../colour/tables";
import { steadyNow } from "../waiting/clock";
import { keepContent } from "../storage/content";
import {
  removeFootageNamed,
  removeRenderNamed,
  removeShotNamed,
  removeTableNamed,
  removeVersionNamed,
  usesOfShot,
} from "./remove";

const order = {
  versionName: "v",
  look: lookOf([]),
  format: "png",
  depth: "8" as const,
  frames: [[1, 2]] as [number, number][],
};

async function framesIn(folder: string) {
  mkdirSync(folder, { recursive: true });
  for (const number of [1, 2, 3]) {
    writeFileSync(join(folder, `a.000${number}.png`), `frame ${number} of ${folder}`);
    await keepContent(join(folder, `a.000${number}.png`));
  }
}
const contentOf = (data: string) =>
  readdirSync(join(data, "content"), { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());

describe("removing a shot", () => {
  test("takes its look, versions and footage with it, frees the content, and leaves what was rendered", async () => {
    const { db, client, folder } = await openTestStore();
    await addTestShot(db, "s");
    await framesIn(join(folder, "footage/f-s"));
    await keepVersion(db, "s", undefined, lookOf([]));
    const render = await addRender(db, { shotId: "s", ...order }, [order.frames]);
    expect(await usesOfShot(db, "s")).toEqual({
      usedBy: [],
      goes: ["its look", "1 version", "its footage (3 frames)"],
      stays: ["1 render"],
    });
    await expect(removeShotNamed(db, "s")).rejects.toThrow(/being rendered; cancel render 1 first/);
    await moveRender(db, render.id, ["queued"], { state: "done" });
    mkdirSync(join(folder, "renders", render.folder), { recursive: true });
    expect((await removeShotNamed(db, "s")).freed).toBeGreaterThan(50);
    expect(await findShot(db, "s")).toBe(undefined);
    expect(await findFootage(db, "f-s")).toBe(undefined);
    expect(existsSync(join(folder, "footage/f-s"))).toBe(false);
    expect(contentOf(folder)).toEqual([]);
    expect(existsSync(join(folder, "renders", render.folder))).toBe(true);
    await removeRenderNamed(db, String(render.id));
    expect(existsSync(join(folder, "renders", render.folder))).toBe(false);
    await expect(removeRenderNamed(db, String(render.id))).rejects.toThrow(/is not there/);
    await client.close();
  });
  test("is refused while another look lays it over its own; footage stays while another shot uses it, or it lies elsewhere", async () => {
    const { db, client, folder } = await openTestStore();
    await addTestShot(db, "snow", { footage: "f" });
    await addTestShot(db, "twin", { footage: "f" });
    const laid = lookOf([{ kind: "plate", params: { footage: "snow" } }]);
    await addTestShot(db, "night", { look: laid });
    await framesIn(join(folder, "footage/f"));
    await expect(removeShotNamed(db, "snow")).rejects.toThrow(/laid over night; take it off there first/);
    await expect(removeFootageNamed(db, "f")).rejects.toThrow(/used by snow, twin/);
    await removeShotNamed(db, "twin");
    expect(existsSync(join(folder, "footage/f/a.0001.png"))).toBe(true);
    const elsewhere = mkdtempSync(join(tmpdir(), "halo-elsewhere-"));
    await framesIn(elsewhere);
    await addTestShot(db, "there", { folder: elsewhere });
    expect((await usesOfShot(db, "there")).stays).toEqual(["its footage, where it lies (3 frames)"]);
    await removeShotNamed(db, "there");
    expect(readdirSync(elsewhere).length).toBe(3);
    await client.close();
  });
});

test("a version goes alone, and only from its own shot", async () => {
  const { db, client } = await openTestStore();
  await addTestShot(db, "a");
  const { id } = await keepVersion(db, "a", undefined, lookOf([]));
  await expect(removeVersionNamed(db, "b", String(id))).rejects.toThrow(/is not there/);
  await removeVersionNamed(db, "a", String(id));
  await expect(removeVersionNamed(db, "a", String(id))).rejects.toThrow(/is not there/);
  await client.close();
});

const cube = (title: string) => `TITLE "${title}"\nLUT_3D_SIZE 2\n${"0 0 0\n".repeat(8)}`;

test("tables whose names differ only in letters that ids drop are two tables; one of the same name is replaced", async () => {
  const { db, client } = await openTestStore();
  await addTestShot(db, "s", { look: lookOf([], {}, undefined, { kind: "lut", lut: "druck-1" }) });
  const ids = [];
  for (const file of ["Druck 1.cube", "druck_1.cube", "DRÜCK-1.cube", "Druck 1.cube"])
    ids.push((await keepTable(db, file, cube(file), { until: steadyNow() + 60_000 })).id);
  expect(ids).toEqual(["druck-1", "druck-1-2", "dr-ck-1", "druck-1"]);
  expect((await listTables(db)).map(({ file }) => file).sort()).toEqual([
    "DRÜCK-1.cube",
    "Druck 1.cube",
    "druck_1.cube",
  ]);
  await putTable(db, { id: "old", name: "old", file: "old.cube", text: cube("old") });
  await expect(removeTableNamed(db, "druck-1")).rejects.toThrow(/is the view of s; choose another view/);
  await removeTableNamed(db, "old");
  await expect(removeTableNamed(db, "old")).rejects.toThrow(/is not there/);
  await client.close();
});

test("a table that stills and looks of the library show themselves through is not removed", async () => {
  const { db, client } = await openTestStore();
  await addTestShot(db, "s");
  await putTable(db, { id: "print", name: "print", file: "print.cube", text: cube("print") });
  const look = lookOf([], {}, undefined, { kind: "lut", lut: "print" });
  const still = await addStill(db, { shotId: "s", frame: 1, note: "", look, width: 4, height: 2 });
  await keepLibraryLook(db, "dusk", { ...look, name: "Dusk" }, null);
  await expect(removeTableNamed(db, "print")).rejects.toThrow(`the view of still ${still.id}, the look “Dusk”`);
  await removeLibraryLook(db, "dusk");
  await removeStill(db, still.id);
  await removeTableNamed(db, "print");
  await client.close();
});
