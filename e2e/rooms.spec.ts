import { expect, type Page } from "@playwright/test";
import { test } from "./restored-test";
import { listen, openBench, picture, piece, settled } from "./bench-page";
import { codes, same } from "./jobs/steps";

const heightOf = async (page: Page, name: string) =>
  (await page.getByRole("region", { name, exact: true }).boundingBox())!.height;

test("a viewing exposure shows the picture lighter, by keys and by its field, and is no part of the look", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  const own = await codes(page);
  const look = async () => (await page.request.get("/api/shots/TL-020/look")).text();
  const before = await look();
  const field = page.getByRole("textbox", { name: "Viewing exposure, stops" });
  await page.keyboard.press(".");
  await page.keyboard.press(".");
  await expect(field).toHaveValue("+1.0");
  await expect(page.getByText("Viewed +1.0 stops")).toBeVisible();
  const lighter = await codes(page);
  // Every code is as light as it was, or lighter; and many are.
  expect(own.filter((code, i) => lighter[i]! < code - 1)).toHaveLength(0);
  expect(own.filter((code, i) => lighter[i]! > code + 4).length / own.length).toBeGreaterThan(0.4);
  await field.fill("-2");
  await field.press("Enter");
  await expect(field).toHaveValue("−2.0");
  const darker = await codes(page);
  expect(darker.reduce((sum, code) => sum + code, 0)).toBeLessThan(own.reduce((sum, code) => sum + code, 0));
  await page.keyboard.press("Escape");
  await page.keyboard.press("/");
  await expect(page.getByText(/^Viewed/)).toHaveCount(0);
  expect(same(await codes(page), own)).toBe(true);
  expect(await look()).toBe(before);
});

test("the picture fills the window and comes back; with the time drawer open it keeps half of a low window", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  await page.setViewportSize({ width: 1280, height: 713 });
  await page.keyboard.press("t");
  await expect(page.getByRole("region", { name: "Time drawer" })).toBeVisible();
  await expect.poll(() => heightOf(page, "Picture")).toBeGreaterThanOrEqual(356);
  await page.keyboard.press("Shift+F");
  await expect.poll(() => heightOf(page, "Picture")).toBe(713);
  // The picture is drawn anew at the size it has now.
  await expect.poll(async () => (await picture(page).boundingBox())!.width).toBeGreaterThan(1260);
  await page.getByRole("button", { name: /^Back to the Bench/ }).click();
  await expect.poll(() => heightOf(page, "Picture")).toBeLessThan(600);
  await page.keyboard.press("t");
});

test("rooms are dragged, by keys too, and are found as they were left", async ({ page }) => {
  await openBench(page, "TL-020");
  const panel = page.getByRole("complementary", { name: "Selected element" });
  const before = (await panel.boundingBox())!;
  const line = page.getByRole("separator", { name: "Width of the panel" });
  const at = (await line.boundingBox())!;
  await page.mouse.move(at.x, at.y + 200);
  await page.mouse.down();
  await page.mouse.move(at.x - 100, at.y + 200, { steps: 5 });
  await page.mouse.up();
  const wider = (await panel.boundingBox())!;
  expect(Math.abs(wider.width - before.width - 100)).toBeLessThan(6);
  await page.reload();
  await settled(page);
  expect(Math.abs((await panel.boundingBox())!.width - wider.width)).toBeLessThan(6);
  await line.focus();
  await page.keyboard.press("ArrowRight");
  await expect.poll(async () => (await panel.boundingBox())!.width).toBeLessThan(wider.width - 10);
});

test("the picture in a window of its own follows what the Bench shows, and goes with it", async ({ page, context }) => {
  const said = listen(page);
  await openBench(page, "TL-020");
  const [own] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "The picture in a window of its own" }).click(),
  ]);
  const hashIn = (on: Page) =>
    on.locator("canvas[data-picture=picture]").evaluate(async (node: HTMLCanvasElement) => {
      const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
      return [...new Uint8Array(await crypto.subtle.digest("SHA-256", data))].join();
    });
  await expect.poll(async () => (await hashIn(own)) === (await hashIn(page))).toBe(true);
  const first = await hashIn(page);
  await page.bringToFront();
  await page.keyboard.press("ArrowRight");
  await settled(page);
  expect(await hashIn(page)).not.toBe(first);
  await expect.poll(async () => (await hashIn(own)) === (await hashIn(page))).toBe(true);
  // A wipe is seen there, too.
  await page.keyboard.press("e");
  await expect(own.locator("canvas[data-picture=reference]")).toHaveCount(1);
  await page.keyboard.press("e");
  await own.close();
  await expect(page.getByRole("button", { name: "The picture in a window of its own" })).toHaveAttribute(
    "aria-pressed",
    "false",
  );
  expect(said).toEqual([]);
});

test("the panel's head stays, leads to What, Where and When, and an element is found as it was left", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  await piece(page, "Glow").click();
  const name = page.getByRole("heading", { level: 2, name: "Glow", exact: true });
  const parts = page.getByRole("group", { name: "Parts of the panel" });
  await parts.getByRole("button", { name: "Where" }).click();
  await expect(page.getByLabel("Add an area")).toBeInViewport();
  await expect(name).toBeInViewport();
  await expect(page.getByRole("textbox", { name: "Strength, ×", exact: true })).toBeInViewport();
  await piece(page, "Diffusion").click();
  await piece(page, "Glow").click();
  await expect(page.getByLabel("Add an area")).toBeInViewport();
  await page.keyboard.press("b");
  await expect(page.getByText(/^Keyed highlights/)).toBeInViewport();
  await page.keyboard.press("u");
  await expect(page.getByText(/^Nothing of it changes over the shot/)).toBeInViewport();
  await expect(parts.getByRole("button", { name: "When" })).toHaveAttribute("aria-pressed", "true");
});
