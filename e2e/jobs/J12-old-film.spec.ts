import { expect } from "@playwright/test";
import { test } from "./job";
import { openBench, piece } from "../bench-page";
import { add, codes, same, type, undoAll } from "./steps";

const order = (page: import("@playwright/test").Page) =>
  page
    .getByRole("list", { name: "Elements in the order light meets them" })
    .getByRole("button")
    .evaluateAll((all) => all.map((node) => node.getAttribute("aria-label")!.split(",")[0]));

// Keeping the look and putting it on other shots needs the drawer of looks; what is here is done without it.
test("J12 old film: colour apart at the edges, flicker, a curve that lifts blacks, vibrance, grain over the vignette by order, black and white", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  await piece(page, "Lateral colour").click();
  await type(page, "Strength", 2.5);
  await add(page, "Flicker");
  await add(page, "Curves");
  await page.getByLabel("All channels: begin from").selectOption({ label: "Blacks up, whites down" });
  const lifted = await codes(page);
  const least = (of: number[]) => of.filter((_, i) => i % 4 === 1).sort((a, b) => a - b)[40_000]!;
  await page.getByRole("button", { name: "On", exact: true }).click();
  expect(least(await codes(page))).toBeLessThan(least(lifted));
  await page.getByRole("button", { name: "Off", exact: true }).click();
  await add(page, "Trim");
  await type(page, "Vibrance", -0.5);

  // A vignette after the grain, then the grain on top of it: the order is changed on the path, and seen.
  await add(page, "Vignette");
  for (let i = 0; i < 6; i++) await page.keyboard.press("Alt+ArrowRight");
  const after = await order(page);
  expect(after.indexOf("Grain")).toBeLessThan(after.indexOf("Vignette"));
  const under = await codes(page);
  await piece(page, "Grain").click();
  for (let i = 0; i < 8; i++) await page.keyboard.press("Alt+ArrowRight");
  const now = await order(page);
  expect(now.indexOf("Grain")).toBeGreaterThan(now.indexOf("Vignette"));
  expect(same(await codes(page), under)).toBe(false);

  // In black and white: every pixel's channels are as near as a display's rounding leaves them, but for the grain.
  await add(page, "Monochrome");
  await piece(page, "Grain").click();
  await page.keyboard.press("x");
  const grey = await codes(page);
  let most = 0;
  for (let i = 0; i < grey.length; i += 4 * 97) most = Math.max(most, Math.abs(grey[i]! - grey[i + 2]!));
  expect(most).toBeLessThanOrEqual(14);
  await undoAll(page);
});
