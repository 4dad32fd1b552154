import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";
import { addRender, findRender, moveRender, removeShot } from "../../store/queries";
import { addStill } from "../../store/library";
import { lookOf } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { openLedger } from "../render/ledger";
import { digestOf } from "../storage/content";
import { contentPath, keepContent } from "../storage/content";
import { examine } from "./doctor";

test("finds what is in the database and not on the disk, and the other way round; mends what can be mended", async () => {
  const { db, client, folder } = await openTestStore();
  await addTestShot(db, "s");
  await addTestShot(db, "orphan");
  for (const shot of ["s", "orphan"]) {
    const home = join(folder, "footage", `f-${shot}`);
    mkdirSync(home, { recursive: true });
    for (const number of [1, 2, 3]) writeFileSync(join(home, `a.000${number}.png`), `${shot} ${number}`);
    await keepContent(join(home, "a.0001.png"));
  }
  const order = {
    shotId: "s",
    versionName: "v",
    look: lookOf([]),
    format: "png",
    depth: "8" as const,
    frames: [[1, 2]] as [number, number][],
  };
  const render = await addRender(db, order, [order.frames]);
  const out = join(folder, "renders", render.folder);
  mkdirSync(out, { recursive: true });
  const ledger = await openLedger(out);
  for (const number of [1, 2]) {
    const file = join(out, `s.000${number}.png`);
    writeFileSync(file, "frame");
    await ledger.add(file, "recipe", { size: 5, sha256: digestOf(Buffer.from("frame")) });
  }
  await moveRender(db, render.id, ["queued"], { state: "done" });
  expect(await examine(folder, db, true)).toEqual([]);

  await removeShot(db, "orphan");
  writeFileSync(join(folder, "footage/f-s/stranger.png"), "");
  rmSync(join(folder, "footage/f-s/a.0003.png"));
  writeFileSync(join(out, "s.0002.png"), "fra");
  writeFileSync(join(out, ".s.0001.png.ab.part"), "");
  mkdirSync(join(folder, "renders/unknown-0009"));
  const lost = join(folder, "lost.bin");
  writeFileSync(lost, "nobody's");
  const hash = await keepContent(lost);
  rmSync(lost);
  const said = (await examine(folder, db)).map(({ what, mends }) => [
    what.replaceAll(folder, ""),
    mends?.replaceAll(folder, ""),
  ]);
  expect(said).toEqual([
    ["footage f-s: 1 of 3 files are not there, first /footage/f-s/a.0003.png", undefined],
    ["footage f-orphan (a.%04d.png) is used by no shot", "removes it"],
    ["/footage/f-s/stranger.png belongs to no footage", "removes it"],
    [
      `render ${render.id}: 1 of 2 files are not there or not whole, first /renders/s-0001/s.0002.png`,
      "queues it again",
    ],
    ["renders/unknown-0009 belongs to no render", "moves it to /lost-and-found/unknown-0009"],
    ["/renders/s-0001/.s.0001.png.ab.part was never finished", "removes it"],
    ["1 files of content (1 MiB) are used by nothing", "removes them"],
  ]);
  for (const { mend } of await examine(folder, db)) await mend?.();
  expect((await examine(folder, db)).map(({ mends }) => mends)).toEqual([null]);
  expect((await findRender(db, render.id))!.state).toBe("queued");
  expect(existsSync(contentPath(hash))).toBe(false);
  expect(readdirSync(join(folder, "footage"))).toEqual(["f-s"]);
  await client.close();
});

test("stills without their pictures are removed, and what belongs to none is moved away", async () => {
  const { db, folder } = await openTestStore();
  await addTestShot(db, "s");
  const still = await addStill(db, { shotId: "s", frame: 1, note: "", look: lookOf([]), width: 4, height: 2 });
  mkdirSync(join(folder, "stills/0099"), { recursive: true });
  const found = (await examine(folder, db)).filter(({ what }) => what.startsWith("still"));
  expect(found.map(({ what }) => what.split(":")[0])).toEqual([`still ${still.id}`, "stills/0099 belongs to no still"]);
  for (const { mend } of found) await mend?.();
  expect((await examine(folder, db)).filter(({ what }) => what.startsWith("still"))).toEqual([]);
  expect(existsSync(join(folder, "lost-and-found/still-0099"))).toBe(true);
});
