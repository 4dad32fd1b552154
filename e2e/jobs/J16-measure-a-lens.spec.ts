import { mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "@playwright/test";
import { lensFrames } from "../../src/demo/bench-day/bench-day";
import { lensAgainst } from "../../src/demo/bench-day/against";
import { demoProfiles } from "../../src/demo/glass/profiles";
import { writeExr } from "../../src/formats/exr/write";
import type { LensProfile } from "../../src/core/profile/profiles";
import { listen, openBench, settled } from "../bench-page";
import { exported, goToView, measured, removeShown, setSensor } from "../chart-room";
import { test } from "../restored-test";
import { choose, hash, type } from "./steps";

const LENS = "plainglass-50";
const truth = demoProfiles().find(({ id }) => id === LENS) as LensProfile;
const folder = mkdtempSync(join(tmpdir(), "halo-j16-"));

/** The frames of Bench day at one stop: edges, an even field twice, and the grid. */
test.beforeAll(async () => {
  test.setTimeout(120_000);
  for (const { file, light } of lensFrames(truth).frames)
    if (/-T1\.8/.test(file) || file === "grid.exr")
      writeFileSync(join(folder, file), await writeExr(light(), { depth: "half" }));
});
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

test("J16 a lens is measured from frames of charts, kept, put on a shot, and held against the lens itself", async ({
  page,
}) => {
  test.setTimeout(300_000);
  const said = listen(page);
  await openBench(page, "TL-030");
  const before = await hash(page);
  await goToView(page, "Chart room");
  await setSensor(page, 24.96, 14.04);
  await page.getByLabel("Frames of charts").setInputFiles(readdirSync(folder).map((name) => join(folder, name)));
  await measured(page, 3);

  // What was found: every edge is drawn, one is taken out and in again, and the curve is another one meanwhile.
  const list = page.getByRole("list", { name: "Measurements" });
  await list
    .getByRole("button", { name: /^Slanted edges, 50 mm, T1\.8/ })
    .first()
    .click();
  await expect(page.getByText("72 edges measured").first()).toBeVisible();
  const edge = page.getByRole("button", { name: /^Edge at/ }).first();
  await edge.click();
  await expect(page.getByText("71 edges measured").first()).toBeVisible();
  await page.getByRole("button", { name: "Take them in" }).click();
  await expect(page.getByText("71 edges measured")).toHaveCount(0);
  // A region of one square: four edges, and back.
  await page.getByRole("button", { name: "Draw a region" }).click();
  const box = (await page.getByRole("img", { name: "The chart" }).boundingBox())!;
  await page.mouse.move(box.x + 2, box.y + 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 6, box.y + box.height / 3, { steps: 5 });
  await page.mouse.up();
  await measured(page, 3);
  await expect(page.getByText("4 edges measured").first()).toBeVisible();
  await page.getByRole("button", { name: "Whole frame" }).click();
  await measured(page, 3);
  await expect(page.getByText("72 edges measured").first()).toBeVisible();

  // A reload returns to the same place; nothing has to be dropped again.
  await page.reload();
  await measured(page, 3);
  await page.getByLabel("Name").fill("Rental 50");
  await page.getByLabel("Set").fill("Own glass");
  await page.getByRole("button", { name: "Keep as a profile" }).click();
  await page.getByRole("link", { name: "Open it in the Cabinet" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Rental 50" })).toBeVisible();
  await page.getByLabel("Lay Plainglass 50 over").check();
  await expect(page.getByText("Laid over it, broken lines: Plainglass 50")).toBeVisible();
  await expect(page.getByText(/Origin: measured, 72 slanted edges/).first()).toBeVisible();

  // Every table within its bar of the lens the frames were shot through.
  const rows = lensAgainst((await exported(page)) as LensProfile, truth);
  expect(rows.filter(({ worst, bar }) => !(worst <= bar))).toEqual([]);

  // On the bench it is a lens like any other, and the shot shows it.
  await goToView(page, "Bench");
  await openBench(page, "TL-030");
  await choose(page, "Lens", "Rental 50");
  await type(page, "Stop", 1.8);
  await settled(page);
  expect(await hash(page)).not.toBe(before);
  await goToView(page, "Cabinet");
  await page.getByRole("button", { name: /^Rental 50/ }).click();
  await page.getByRole("button", { name: "Remove Rental 50" }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByText(/“Rental 50” is used by TL-030; choose other glass there first/)).toBeVisible();
  await openBench(page, "TL-030");
  for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
  await choose(page, "Lens", "Orrin Vale 50");
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await goToView(page, "Cabinet");
  await page.getByRole("button", { name: /^Rental 50/ }).click();
  await removeShown(page, "Rental 50");
  // A refused removal is the server's answer 409, which the browser's console tells by itself.
  expect(said.filter((words) => !words.includes("409"))).toEqual([]);
});
