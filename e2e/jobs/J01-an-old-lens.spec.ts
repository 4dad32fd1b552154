import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, picture, pixels, settled } from "../bench-page";
import { choose, codes, hash, same, type, undoAll } from "./steps";

/** How much neighbouring pixels differ: fine texture in a patch of the wool. */
const fineness = (of: number[], step: number) => {
  let sum = 0;
  for (let y = 200; y < 320; y += 1)
    for (let x = 60; x < 240; x += 1) {
      const at = (y * 640 + x) * 4 + 1;
      sum += Math.abs(of[at]! - of[at + 4 * step]!);
    }
  return sum;
};

test("J01 an old lens on clean glass: fine texture loses contrast, corners move, and 65 % lies between none and all", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openBench(page, "TL-020");
  // From the clean reference, so that what is seen is this lens.
  await page.getByRole("button", { name: "begin from a look" }).click();
  await page.getByRole("button", { name: /Clean reference/ }).click();
  await page.getByRole("button", { name: "Put on this shot" }).click();
  await page.getByRole("button", { name: "Close looks" }).click();
  await choose(page, "Lens", "Orrin Vale 35");
  await page.getByRole("button", { name: "T2", exact: true }).click();

  // Contrast of the finest detail down, of the middle a little less.
  const sharpness = page.getByRole("heading", { level: 2, name: "Sharpness", exact: true });
  for (let i = 0; i < 20 && !(await sharpness.isVisible()); i++) await page.keyboard.press("]");
  await type(page, "Strength", 2);
  // Zoomed on the wool at 2:1, on and off.
  await page.getByRole("button", { name: "2:1" }).click();
  const soft = await codes(page);
  await page.getByRole("button", { name: "On", exact: true }).click();
  const crisp = await codes(page);
  await page.getByRole("button", { name: "Off", exact: true }).click();
  const fine = fineness(soft, 1) / fineness(crisp, 1);
  const coarse = fineness(soft, 24) / fineness(crisp, 24);
  expect(fine).toBeLessThan(0.9);
  expect(coarse).toBeGreaterThan(0.95);
  await page.getByRole("button", { name: "Fit" }).click();

  // The lens's colour warm, then cyan: as glass, which takes light of one kind and not of another.
  const transmission = page.getByRole("heading", { level: 2, name: "Transmission", exact: true });
  for (let i = 0; i < 20 && !(await transmission.isVisible()); i++) await page.keyboard.press("]");
  const meanOf = (of: number[], c: number) => of.reduce((sum, value, i) => (i % 4 === c ? sum + value : sum), 0);
  const warmth = (of: number[]) => meanOf(of, 0) / meanOf(of, 2);
  const before = warmth(await codes(page));
  await type(page, "Warm to cool", -0.6);
  const one = warmth(await codes(page));
  await type(page, "Warm to cool", 0.6);
  const other = warmth(await codes(page));
  expect((one - before) * (other - before)).toBeLessThan(0);

  // A fall-off that is the lens's own: less of it when it is closed.
  await page.keyboard.press("Escape");
  const corner = (of: number[]) => of[(2 * 640 + 2) * 4 + 1]! / of[(180 * 640 + 320) * 4 + 1]!;
  const open = corner(await codes(page));
  await page.getByRole("button", { name: "T8", exact: true }).click();
  expect(corner(await codes(page))).toBeGreaterThan(open);

  // Distortion of another kind of lens, by its focal length, then part of it; the corners move, and the caution says by
  // how much.
  await choose(page, "Lens", "Orrin Vale 25");
  await settled(page);
  const caution = page.getByRole("button", { name: /^\d+ cautions?$/ });
  await caution.click();
  const framing = page.getByRole("list", { name: "Cautions" }).getByText(/^Distortion: Framing changed by [\d.]+ %/);
  const percent = async () => Number(/[\d.]+/.exec((await framing.textContent())!)![0]);
  const full = await percent();
  expect(full).toBeGreaterThan(0.5);
  // It leads to the element it speaks of.
  await framing.click();
  await expect(page.getByRole("heading", { level: 2, name: "Distortion", exact: true })).toBeVisible();
  const bent = await hash(page);
  await type(page, "Strength", 0.5);
  expect(await hash(page)).not.toBe(bent);
  expect(await percent()).toBeLessThan(full);

  // The whole pulled back to 65 %: between none and all on every element.
  const all = await codes(page);
  await type(page, "Overall strength", 0);
  const none = await codes(page);
  await type(page, "Overall strength", 0.65);
  const some = await codes(page);
  expect(same(some, all)).toBe(false);
  const apart = (a: number[], b: number[]) => a.reduce((sum, value, i) => sum + Math.abs(value - b[i]!), 0);
  expect(apart(some, none)).toBeLessThan(apart(all, none));
  expect(apart(some, all)).toBeLessThan(apart(none, all));
  await page.keyboard.press("Escape");
  const elements = page.getByRole("list", { name: "Elements in the order light meets them" }).getByRole("button");
  for (const element of await elements.all()) {
    await element.click();
    const told = page.getByText(/with overall strength: [\d.]+ ×/);
    if (!(await told.isVisible())) continue;
    const own = Number(await page.getByRole("textbox", { name: "Strength, ×", exact: true }).inputValue());
    const acting = Number(/([\d.]+) ×/.exec((await told.textContent())!)![1]);
    expect(Math.abs(acting - 0.65 * own)).toBeLessThan(0.006);
  }
  expect((await pixels(picture(page))).width).toBe(640);
  await undoAll(page);
});
