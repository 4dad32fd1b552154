import { expect } from "@playwright/test";
import { listen, openBench, piece, settled } from "./bench-page";
import { test } from "./restored-test";

const WORDS: Record<string, string> = {
  Ctrl: "Control",
  "←": "ArrowLeft",
  "→": "ArrowRight",
  "↑": "ArrowUp",
  "↓": "ArrowDown",
};
/** Keys as the list tells them, as they are pressed: “Ctrl Shift Z”. */
const pressed = (told: string) =>
  told.split(" ").map((word) => WORDS[word] ?? (word.length === 1 ? word.toLowerCase() : word));

test("every command that has a key is done by it, one after another, and the Bench stands", async ({ page }) => {
  test.setTimeout(180_000);
  const said = listen(page);
  await openBench(page, "TL-030");
  await page.keyboard.press("?");
  const list = page.getByRole("dialog", { name: "Keyboard" });
  const told = await list.locator("dt").allTextContents();
  const names = await list.locator("dd").allTextContents();
  expect(told.length).toBeGreaterThan(45);
  expect(new Set(told).size).toBe(told.length);
  await page.keyboard.press("Escape");
  for (const [i, keys] of told.entries()) {
    // The picture alone covers what is pressed next.
    if (await page.getByRole("button", { name: /^Back to the Bench/ }).count()) await page.keyboard.press("Escape");
    // Something is selected for what is done with an element, whatever the one before did.
    if ((await page.getByRole("heading", { level: 2, name: "Diffusion", exact: true }).count()) === 0) {
      const diffusion = piece(page, "Diffusion");
      if (await diffusion.count()) await diffusion.first().click();
    }
    const parts = pressed(keys);
    for (const key of parts) await page.keyboard.down(key);
    for (const key of parts.toReversed()) await page.keyboard.up(key);
    if (await page.getByRole("dialog").count()) await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog"), names[i]).toHaveCount(0);
    await expect(page.getByRole("region", { name: "Picture" }), names[i]).toBeVisible();
  }
  await page.keyboard.press("k");
  await settled(page);
  expect(said).toEqual([]);
});

test("the Bench and Footage fit three sizes of the window: nothing scrolls the page, no button or heading lies beyond it", async ({
  page,
}) => {
  for (const path of ["/footage", "/bench/TL-010?element=glow"]) {
    await page.goto(path);
    if (path.startsWith("/bench")) {
      await settled(page);
      await page.keyboard.press("s");
      await page.keyboard.press("y");
    } else await page.waitForLoadState("networkidle");
    for (const [width, height] of [
      [1280, 800],
      [1440, 900],
      [1920, 1080],
    ] as const) {
      await page.setViewportSize({ width, height });
      await page.waitForTimeout(400);
      const found = await page.evaluate(() => ({
        scrolls:
          document.documentElement.scrollHeight > innerHeight || document.documentElement.scrollWidth > innerWidth,
        cut: [...document.querySelectorAll("button, a.btn, h1, h2, h3")]
          .filter((node) => {
            const box = node.getBoundingClientRect();
            return box.width > 0 && box.top < innerHeight && box.right > innerWidth + 1;
          })
          .map((node) => node.textContent),
      }));
      expect(found, `${path} at ${width}x${height}`).toEqual({ scrolls: false, cut: [] });
    }
  }
});
