import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test, vi } from "vitest";
import { deliverySchema, queueDeliveryBody } from "../../contract/deliveries";
import { keepDelivery, listDeliveries, removeDelivery } from "../../store/deliveries";
import { findRender, listRenders, updateShots } from "../../store/queries";
import { keepVersion } from "../../store/versions";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { renderQueue } from "./queue";
import { digestOf } from "../storage/content";
import { addDelivery } from "./add";
import { fileNameOf, folderOf } from "../render/deliver";
import { openLedger } from "../render/ledger";
import { manifestOf } from "../render/manifest";

async function openTwoShots() {
  const store = await openTestStore();
  for (const id of ["TL-1", "TL-2"]) await addTestShot(store.db, id, { frames: [[1, 20]], look: lookOf([]) });
  // Nobody works on it: what is queued is what counts here.
  return { ...store, queue: renderQueue(store.db) };
}
const delivery = deliverySchema.parse({
  formats: ["PNG 16 bits", "EXR half, ZIP"],
  naming: "{shot}_{version}.{frame}",
});

test("every shot and version is queued in every format, under names by the pattern", async () => {
  const { db, queue } = await openTwoShots();
  const { id } = await keepVersion(db, "TL-1", "Warm, wide", { ...lookOf([{ kind: "glow" }]), name: "warm" });
  const of = [
    { shotId: "TL-1", versionId: null },
    { shotId: "TL-1", versionId: id },
    { shotId: "TL-2", versionId: null },
  ];
  const ids = await addDelivery(db, queue, { delivery, of });
  const renders = await Promise.all(ids.map((one) => findRender(db, one)));
  expect(renders.map((render) => fileNameOf(render!))).toEqual([
    "TL-1_now.%04d.png",
    "TL-1_now.%04d.exr",
    "TL-1_Warm_wide.%04d.png",
    "TL-1_Warm_wide.%04d.exr",
    "TL-2_now.%04d.png",
    "TL-2_now.%04d.exr",
  ]);
  expect(renders.map((render) => render!.look.name)).toEqual(["Test", "Test", "warm", "warm", "Test", "Test"]);
  const folders = renders.map((render) => render!.folder);
  expect(new Set(folders).size).toBe(6);
  // The number of a frame has no place in the name of what holds all of them.
  expect(folders[3]).toMatch(/^TL-1_Warm_wide-\d+$/);
});

test("handles are taken beyond in and out as far as there is footage; some frames alone are taken alone", async () => {
  const { db, queue } = await openTwoShots();
  await updateShots(db, ["TL-1"], { firstFrame: 3, lastFrame: 10 }, {});
  const of = [{ shotId: "TL-1", versionId: null }];
  const framesOf = async (more: object) => {
    const [id] = await addDelivery(db, queue, { delivery: { ...delivery, formats: ["PNG 8 bits"], ...more }, of });
    return (await findRender(db, id!))!.frames;
  };
  expect(await framesOf({})).toEqual([[3, 10]]);
  expect(await framesOf({ handles: 5 })).toEqual([[1, 15]]);
  expect(await framesOf({ only: { first: 4, last: 5 } })).toEqual([[4, 5]]);
});

test("where a part of it cannot be made, nothing is queued", async () => {
  const { db, queue } = await openTwoShots();
  const of = [
    { shotId: "TL-1", versionId: null },
    { shotId: "TL-2", versionId: 99 },
  ];
  await expect(addDelivery(db, queue, { delivery, of })).rejects.toThrow("Version 99 of TL-2");
  const none = { ...delivery, only: { first: 500, last: 600 } };
  await expect(addDelivery(db, queue, { delivery: none, of: of.slice(0, 1) })).rejects.toThrow(
    "TL-1 has no frames from 500 to 600",
  );
  expect(await listRenders(db)).toEqual([]);
  const bad = queueDeliveryBody.safeParse({ delivery: { ...delivery, naming: "../{shot}" }, of });
  expect(bad.error?.issues[0]?.message).toMatch(/no folders/);
});

test("a delivery is kept by its name, and replaced by one of the same", async () => {
  const { db } = await openTwoShots();
  await keepDelivery(db, "Facility", delivery);
  const again = await keepDelivery(db, "Facility", { ...delivery, handles: 8 });
  expect((await listDeliveries(db)).map(({ name, body }) => [name, body])).toEqual([
    ["Facility", { ...delivery, handles: 8 }],
  ]);
  expect(await removeDelivery(db, again.id)).toHaveLength(1);
  expect(await removeDelivery(db, again.id)).toEqual([]);
});

test("the manifest has every file that is there with its own hash: what was changed since is not taken on trust", async () => {
  const { db, queue } = await openTwoShots();
  const [id] = await addDelivery(db, queue, { delivery, of: [{ shotId: "TL-1", versionId: null }] });
  const render = (await findRender(db, id!))!;
  const folder = folderOf(render);
  mkdirSync(folder, { recursive: true });
  const ledger = await openLedger(folder);
  for (const [name, text] of [
    ["a.0001.png", "first"],
    ["a.0002.png", "second"],
  ] as const) {
    writeFileSync(join(folder, name), text);
    await ledger.add(join(folder, name), "recipe", { size: text.length, sha256: digestOf(Buffer.from(text)) });
  }
  writeFileSync(join(folder, "a.0002.png"), "another one");
  writeFileSync(join(folder, "a.png.recipe.json"), "{}");
  const { files } = await manifestOf(db, render);
  expect(files.map(({ file }) => file)).toEqual(["a.0001.png", "a.0002.png", "a.png.recipe.json"]);
  for (const { file, bytes, sha256 } of files) {
    const own = readFileSync(join(folder, file));
    expect([bytes, sha256]).toEqual([own.length, digestOf(own)]);
  }
});

test("renders go into a folder of one's own under a root, by its name, and nowhere else", async () => {
  const { db, queue, folder } = await openTwoShots();
  vi.stubEnv("HALO_RENDER_ROOTS", `show=${folder}/show:/unnamed`);
  const of = [{ shotId: "TL-1", versionId: null }];
  const to = (root: string, below: string) =>
    queueDeliveryBody.parse({
      delivery: { ...delivery, formats: ["PNG 8 bits"], into: { root, folder: below } },
      of,
    });
  const [id] = await addDelivery(db, queue, to("show", "reel 2/v3"));
  const render = (await findRender(db, id!))!;
  expect(render.folder).toBe("root:show/reel 2/v3/TL-1_now-0001");
  expect(folderOf(render)).toBe(join(folder, "show/reel 2/v3/TL-1_now-0001"));
  await expect(addDelivery(db, queue, to("tell", ""))).rejects.toThrow("into.root: there is no root tell");
  for (const bad of ["../x", "/etc", "a//b", ".hidden", "a/..", "a\\b"]) expect(() => to("show", bad)).toThrow();
  // On a machine that has it elsewhere, and on one that has not said where.
  vi.stubEnv("HALO_RENDER_ROOTS", "show=/Volumes/Show");
  expect(folderOf(render)).toBe("/Volumes/Show/reel 2/v3/TL-1_now-0001");
  vi.stubEnv("HALO_RENDER_ROOTS", "");
  expect(() => folderOf(render)).toThrow("The root show is not named on this machine");
  vi.unstubAllEnvs();
});
