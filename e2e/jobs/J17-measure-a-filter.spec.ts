import { expect } from "@playwright/test";
import { filterAgainst } from "../../src/demo/bench-day/against";
import { demoProfiles } from "../../src/demo/glass/profiles";
import type { FilterProfile } from "../../src/core/profile/profiles";
import { openBench, piece, settled } from "../bench-page";
import { exported, goToView, measured, removeShown } from "../chart-room";
import { test } from "../restored-test";
import { choose, hash, type } from "./steps";

/** Of TL-030, which the pairs are shot on. */
const SCENE = { pitch: 24.9 / 1280, height: 720, focalLength: 50 };

test("J17 a filter is measured from a scene without and with it, kept, and used at half strength", async ({ page }) => {
  // Two frames of a scene of many lamps are computed for it: minutes on a slow machine.
  test.setTimeout(900_000);
  await openBench(page, "TL-030");
  await goToView(page, "Chart room");
  await page.getByText("Bench day, the demo’s charts").click();
  await page.getByRole("button", { name: "Hearth: compute its frames" }).click();
  await page.getByRole("button", { name: "Hearth: measure its frames" }).click({ timeout: 400_000 });
  await measured(page, 2);

  // How well it fits, and both pictures.
  await expect(page.getByText(/^9\d\.\d % of what changed is explained$/)).toBeVisible();
  await page.getByRole("button", { name: "with the filter", exact: true }).click();
  await expect(page.getByText(/^with-1-4\.exr/)).toBeVisible();
  await page.getByLabel("Name").fill("Rental diffusion");
  await page.getByRole("button", { name: "Keep as a profile" }).click();
  await page.getByRole("link", { name: "Open it in the Cabinet" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Rental diffusion" })).toBeVisible();
  const truth = demoProfiles().find(({ id }) => id === "hearth") as FilterProfile;
  const rows = filterAgainst((await exported(page)) as FilterProfile, truth, SCENE);
  expect(rows.filter(({ worst, bar }) => !(worst <= bar))).toEqual([]);

  await page.getByRole("button", { name: "Put it on TL-030" }).click();
  await settled(page);
  await piece(page, "Diffusion").click();
  await expect(page.getByRole("combobox", { name: "Filter", exact: true }).locator("option:checked")).toHaveText(
    "Rental diffusion",
  );
  const whole = await hash(page);
  await type(page, "Strength", 0.5);
  expect(await hash(page)).not.toBe(whole);
  await choose(page, "Filter", "Milkglass");
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await goToView(page, "Cabinet");
  await page.getByRole("button", { name: /^Rental diffusion/ }).click();
  await removeShown(page, "Rental diffusion");
});
