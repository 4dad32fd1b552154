import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, piece } from "../bench-page";
import { add, codes, same, type } from "./steps";

const order = (page: import("@playwright/test").Page) =>
  page
    .getByRole("list", { name: "Elements in the order light meets them" })
    .getByRole("button")
    .evaluateAll((all) => all.map((node) => node.getAttribute("aria-label")!.split(",")[0]));

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

  // Slightly soft; then all of it kept as a look, and put on three other shots at once.
  await add(page, "Edge softness");
  await page.keyboard.press("y");
  await page.getByRole("button", { name: "Keep the present look …" }).click();
  const form = page.getByRole("form", { name: "Keep the present look" });
  await form.getByLabel("Name of the look").fill("Tested old film");
  await form.getByRole("button", { name: "Keep it" }).click();
  const card = page.getByRole("region", { name: "Own" }).getByRole("button", { name: /Tested old film/ });
  await card.click();
  const offered = page.getByRole("region", { name: "The look Tested old film" });
  await offered.getByRole("button", { name: "On several shots …" }).click();
  for (const name of ["Upper station", "Pine path", "Tunnel mouth"])
    await offered.getByRole("checkbox", { name }).check();
  await offered.getByRole("button", { name: "Put on 3 shots" }).click();
  const told = offered.getByRole("status", { name: "What changed" });
  await expect(told.locator("summary")).toHaveCount(3);
  for (const text of await told.locator("summary").allTextContents()) expect(text).not.toMatch(/: 0 changes/);
  await offered.getByRole("button", { name: "Good" }).click();
  await page.getByRole("button", { name: "Remove the look Tested old film" }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await page.getByRole("button", { name: "Close looks" }).click();

  // In black and white: every pixel's channels are as near as a display's rounding leaves them, but for the grain.
  await add(page, "Monochrome");
  await piece(page, "Grain").click();
  await page.keyboard.press("x");
  const grey = await codes(page);
  let most = 0;
  for (let i = 0; i < grey.length; i += 4 * 97) most = Math.max(most, Math.abs(grey[i]! - grey[i + 2]!));
  expect(most).toBeLessThanOrEqual(14);
  // The pictures of the other shots are changed: each has flicker now, and one of them is made black and white.
  await openBench(page, "TL-030");
  await expect(page.getByRole("button", { name: /^Flicker,/ })).toBeAttached();
  const coloured = await codes(page);
  await add(page, "Monochrome");
  expect(same(await codes(page), coloured)).toBe(false);
  await openBench(page, "TL-020");
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
});
