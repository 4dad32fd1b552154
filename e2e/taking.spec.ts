import { expect } from "@playwright/test";
import { openBench } from "./bench-page";
import { choose, hash, type, undoAll } from "./jobs/steps";
import { test } from "./restored-test";

test("the taking lens is taken off before the path, part by part, and says what cannot come back", async ({ page }) => {
  await openBench(page, "TL-030");
  await page.keyboard.press("Escape");
  const before = await hash(page);
  await choose(page, "Taking lens", "Orrin Vale 25");
  const off = await hash(page);
  expect(off).not.toBe(before);
  const panel = page.getByRole("region", { name: "Taking lens" });
  await expect(panel.getByText(/^The corners are raised by \d\.\d stops/)).toBeVisible();
  for (const part of ["Colour", "Fall-off", "Distortion", "Lateral colour", "Contrast"]) await type(page, part, 0);
  expect(await hash(page)).toBe(before);
  await type(page, "Distortion", 1);
  expect(await hash(page)).not.toBe(before);
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await page.reload();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("combobox", { name: "Taking lens" }).locator("option:checked")).toHaveText(
    "Orrin Vale 25",
  );
  await choose(page, "Taking lens", "Is left on");
  expect(await hash(page)).toBe(before);
  await undoAll(page);
});
