import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, picture, settled } from "../bench-page";
import { add, choose, codes, goTo, hash, type, undoAll } from "./steps";

const luma = (of: number[], at: number) => 0.2126 * of[at]! + 0.7152 * of[at + 1]! + 0.0722 * of[at + 2]!;
const spread = (of: number[]) => {
  const values = Array.from({ length: of.length / 4 }, (_, i) => luma(of, 4 * i)).sort((a, b) => a - b);
  const at = (share: number) => values[Math.floor(share * (values.length - 1))]!;
  return { low: at(0.02), high: at(0.98) };
};

test("J08 diffusion, then the contrast it took: levels on the histogram, tints by tone, other frames, and the whole in motion", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openBench(page, "TL-030");
  const start = spread(await codes(page));
  await add(page, "Diffusion");
  await choose(page, "Filter", "Milkglass");
  await choose(page, "Grade", "2");
  const hazy = spread(await codes(page));
  expect(hazy.low).toBeGreaterThan(start.low);

  // Contrast back by levels, while the histogram is looked at.
  await page.keyboard.press("s");
  const scopes = page.getByRole("complementary", { name: "Scopes" });
  const histogram = scopes.getByRole("button", { name: "Histogram" });
  if ((await histogram.getAttribute("aria-pressed")) === "false") await histogram.click();
  await expect(scopes.getByRole("region", { name: "Histogram" }).getByRole("img")).toBeVisible();
  await add(page, "Tone");
  await type(page, "Toe from", -2);
  await type(page, "Crush blacks", 0.8);
  const back = spread(await codes(page));
  expect(back.low).toBeLessThan(hazy.low);
  await page.keyboard.press("s");

  // A soft dark edge; blue into shadows and middles, warmth into highlights, with luminance kept; exposure; noise.
  await add(page, "Vignette");
  await type(page, "Outer line", 280);
  await add(page, "Trim");
  const before = await codes(page);
  const tint = async (label: string, red: number, blue: number) => {
    await page.getByRole("spinbutton", { name: `${label}, red` }).fill(String(red));
    await page.getByRole("spinbutton", { name: `${label}, blue` }).fill(String(blue));
  };
  await tint("Shadows", 0.8, 1.3);
  await tint("Middles", 0.92, 1.1);
  await tint("Highlights", 1.15, 0.85);
  const tinted = await codes(page);
  let [dark, bright, lost, count] = [0, 0, 0, 0];
  for (let at = 0; at < before.length; at += 4) {
    const warmer = tinted[at]! - before[at]! - (tinted[at + 2]! - before[at + 2]!);
    const level = luma(before, at);
    if (level > 4 && level < 45) dark += warmer;
    if (level > 170 && level < 245) bright += warmer;
    if (level > 20 && level < 220) {
      lost += luma(tinted, at) - level;
      count++;
    }
  }
  expect(dark).toBeLessThan(0);
  expect(bright).toBeGreaterThan(0);
  expect(Math.abs(lost / count)).toBeLessThan(4);
  await type(page, "Exposure", 0.3);
  expect(spread(await codes(page)).high).toBeGreaterThan(spread(tinted).high - 1);
  await page.keyboard.press("Escape");
  const grain = page.getByRole("heading", { level: 2, name: "Grain", exact: true });
  for (let i = 0; i < 20 && !(await grain.isVisible()); i++) await page.keyboard.press("]");
  await type(page, "Strength", 1.4);

  // Three other frames, each with the same look, each another picture.
  const seen = new Set([await hash(page)]);
  for (const place of [2, 12, 22]) {
    await goTo(page, place);
    seen.add(await hash(page));
    await expect(page.getByRole("textbox", { name: "Strength, ×", exact: true })).toHaveValue("1.40");
  }
  expect(seen.size).toBe(4);

  // The whole in motion: every frame of the shot is shown.
  const strip = page.getByRole("slider", { name: "Frame", exact: true });
  const frames = Number(await strip.getAttribute("max")) + 1;
  await page.evaluate(() => {
    const shown = new Set<string>();
    (window as unknown as { shownFrames: Set<string> }).shownFrames = shown;
    const node = document.querySelector("input[aria-label=Frame]")!;
    new MutationObserver(() => shown.add(node.getAttribute("aria-valuetext")!)).observe(node, { attributes: true });
  });
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { shownFrames: Set<string> }).shownFrames.size), {
      timeout: 60_000,
    })
    .toBe(frames);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await settled(page);
  await expect(picture(page)).toBeVisible();
  await undoAll(page);
});
