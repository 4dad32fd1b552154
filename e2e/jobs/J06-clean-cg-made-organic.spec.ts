import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, settled } from "../bench-page";
import { add, codes, goTo, hash, same, type, undoAll } from "./steps";

const mean = (of: number[]) => of.reduce((sum, value, i) => (i % 4 === 3 ? sum : sum + value), 0) / (of.length * 0.75);

test("J06 clean CG made organic: vignette, grain that changes every frame and keeps the mean, soft and crisp, dispersion", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openBench(page, "TL-040");
  // From nothing on the path.
  await page.keyboard.press("]");
  for (let i = 0; i < 20; i++) {
    await page.keyboard.press("]");
    if (await page.getByText("No glass in the way").isVisible()) break;
    await page.keyboard.press("Delete");
  }
  const clean = await codes(page);
  await add(page, "Vignette");
  await type(page, "Outer line", 260);
  expect((await codes(page))[(4 * 640 + 4) * 4]!).toBeLessThan(clean[(4 * 640 + 4) * 4]!);

  // Clouds of grain: large, soft, changing with every frame, and the mean stays.
  const graded = await codes(page);
  await add(page, "Grain");
  await type(page, "Strength", 3);
  await type(page, "Grain size", 30);
  const grainy = await codes(page);
  expect(same(grainy, graded)).toBe(false);
  expect(Math.abs(mean(grainy) - mean(graded))).toBeLessThan(1);
  const strip = page.getByRole("slider", { name: "Frame", exact: true });
  const place = Number(await strip.inputValue());
  const [here, next] = [place, place + 1];
  const grainAt = async (at: number) => {
    await goTo(page, at);
    const with_ = await codes(page);
    await page.keyboard.press("x");
    const without = await codes(page);
    await page.keyboard.press("x");
    return with_.map((value, i) => value - without[i]!);
  };
  const [a, b] = [await grainAt(here), await grainAt(next)];
  const dot = (p: number[], q: number[]) => p.reduce((sum, value, i) => sum + value * q[i]!, 0);
  // Two frames' grain have nothing to do with one another.
  expect(Math.abs(dot(a, b) / Math.sqrt(dot(a, a) * dot(b, b)))).toBeLessThan(0.03);
  // It does not clip: what was below white is not white.
  const newlyWhite = grainy.filter((value, i) => i % 4 === 1 && value === 255 && graded[i]! < 240).length;
  expect(newlyWhite / (grainy.length / 4)).toBeLessThan(0.002);
  await goTo(page, here);

  // Slight softening, slight sharpening, a touch of colour, dispersion that grows to the edge.
  await add(page, "Edge softness");
  await add(page, "Sharpen");
  await type(page, "Strength", 0.4);
  await add(page, "Trim");
  await type(page, "Temperature", 0.1);
  await add(page, "Lateral colour");
  await type(page, "Strength", 4);
  const dispersed = await codes(page);
  await page.keyboard.press("x");
  const plain = await codes(page);
  await page.keyboard.press("x");
  const moved = (left: number, right: number) => {
    let sum = 0;
    for (let y = 20; y < 340; y++)
      for (let x = left; x < right; x++)
        for (const c of [0, 2]) sum += Math.abs(dispersed[(y * 640 + x) * 4 + c]! - plain[(y * 640 + x) * 4 + c]!);
    return sum / (right - left);
  };
  expect(moved(0, 60) + moved(580, 640)).toBeGreaterThan(2 * moved(290, 350));

  // Before and after, then the grain pulled back.
  await page.keyboard.press("e");
  await expect(page.locator("canvas[data-picture=reference]")).toBeVisible();
  await settled(page);
  await page.keyboard.press("e");
  const grain = page.getByRole("heading", { level: 2, name: "Grain", exact: true });
  for (let i = 0; i < 20 && !(await grain.isVisible()); i++) await page.keyboard.press("]");
  const strong = await hash(page);
  await type(page, "Strength", 1);
  expect(await hash(page)).not.toBe(strong);
  await undoAll(page);
});
