import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, settled } from "../bench-page";
import { add, choose, codes, drag, goTo, hash, type, undoAll } from "./steps";

type Page = import("@playwright/test").Page;
/** The share of the picture at the bottom of the waveform's scale, as the scopes tell it, %. */
const atBottom = async (page: Page) => {
  await settled(page);
  const told = page.getByRole("status", { name: "At the ends of the scale" });
  await expect(told).toBeVisible();
  return Number(/at the bottom ([\d.]+) %/.exec((await told.textContent())!)![1]);
};

/**
 * How far the middle of the picture moved from one to the other, px: the least sum of squares, between places by a
 * parabola.
 */
function shiftBetween(a: number[], b: number[]): [number, number] {
  const luma = (of: number[], x: number, y: number) => of[(y * 640 + x) * 4 + 1]!;
  const cost = (dx: number, dy: number) => {
    let sum = 0;
    for (let y = 140; y < 220; y++)
      for (let x = 270; x < 370; x++) sum += (luma(a, x, y) - luma(b, x + dx, y + dy)) ** 2;
    return sum;
  };
  let best: [number, number] = [0, 0];
  for (let dy = -4; dy <= 4; dy++) for (let dx = -4; dx <= 4; dx++) if (cost(dx, dy) < cost(...best)) best = [dx, dy];
  const between = (before: number, here: number, after: number) => (before - after) / (2 * (before - 2 * here + after));
  const [x, y] = best;
  return [
    x + between(cost(x - 1, y), cost(x, y), cost(x + 1, y)),
    y + between(cost(x, y - 1), cost(x, y), cost(x, y + 1)),
  ];
}

test("J05 scatter for contrast on log footage: encoding, a glow by soft light, black on the waveform, reds, one hue, the shot steadied", async ({
  page,
}) => {
  test.setTimeout(180_000);
  // The encoding is set right in Footage, and seen by its curve.
  await page.goto("/footage");
  await page.getByRole("button", { name: "Select TL-050 Lamp room" }).click();
  const encoding = page.getByRole("combobox", { name: "Encoding", exact: true });
  const right = (await encoding.inputValue())!;
  await expect(page.getByText(/data sheet|chosen by hand/).first()).toBeVisible();
  expect(right).not.toBe("");

  await openBench(page, "TL-050");
  const first = await hash(page);
  await add(page, "Glow");
  await choose(page, "Lay over", "Soft light");
  await type(page, "Size", 8);
  await type(page, "Threshold", 1);
  await type(page, "Gain", 60);
  await type(page, "Mix", 0.5);
  expect(await hash(page)).not.toBe(first);
  // On and off for the glow alone, and for all.
  const lit = await hash(page);
  await page.keyboard.press("x");
  const unlit = await hash(page);
  expect(unlit).not.toBe(lit);
  await page.keyboard.press("x");
  expect(await hash(page)).toBe(lit);
  await page.keyboard.down("Shift");
  await page.keyboard.down("W");
  await expect(page.locator("canvas[data-picture=reference]")).toBeVisible();
  await page.keyboard.up("W");
  await page.keyboard.up("Shift");

  // Contrast and black point by the waveform: its black touches 0, and no lower.
  await page.keyboard.press("s");
  await page.keyboard.press("Escape");
  await add(page, "Trim");
  const offset = async (value: number) => {
    for (const channel of ["red", "green", "blue"])
      await page.getByRole("spinbutton", { name: `Offset, ${channel}` }).fill(String(value));
    await settled(page);
    // The scopes count the picture once it is there.
    await page.waitForTimeout(400);
    return atBottom(page);
  };
  let [low, high] = [-0.1, 0.04];
  expect(await offset(high)).toBeLessThan(0.5);
  expect(await offset(low)).toBeGreaterThan(5);
  for (let i = 0; i < 6; i++) {
    const middle = Number(((low + high) / 2).toFixed(3));
    if ((await offset(middle)) > 0.5) low = middle;
    else high = middle;
  }
  const touching = await offset(high);
  expect(touching).toBeLessThanOrEqual(0.5);
  const darkest = (of: number[]) => of.reduce((least, value, i) => (i % 4 === 1 ? Math.min(least, value) : least), 255);
  expect(darkest(await codes(page))).toBeLessThanOrEqual(6);
  await page.keyboard.press("s");

  // One hue turned and desaturated.
  const untouched = await hash(page);
  await page.getByRole("spinbutton", { name: /^Hue C, M, Y, yellow/ }).fill("25");
  const turned = await hash(page);
  expect(turned).not.toBe(untouched);
  await page.getByRole("spinbutton", { name: /^Saturation C, M, Y, yellow/ }).fill("0.4");
  expect(await hash(page)).not.toBe(turned);

  // Reds out of the shadows by a curve: the point three stops under mid-grey is taken down.
  await add(page, "Curves");
  const beforeCurve = await codes(page);
  await page.getByRole("group", { name: "Curve", exact: true }).getByRole("button", { name: "Red" }).click();
  const lowest = page.getByRole("group", { name: "Red: points of the curve" }).getByRole("button", { name: /point 2/ });
  for (let i = 0; i < 6; i++) await lowest.press("Shift+ArrowDown");
  const curved = await codes(page);
  const reds = (of: number[], from: number, to: number) => {
    let sum = 0;
    for (let i = 0; i < of.length; i += 4) if (beforeCurve[i + 1]! >= from && beforeCurve[i + 1]! < to) sum += of[i]!;
    return sum;
  };
  expect(reds(curved, 0, 60)).toBeLessThan(0.97 * reds(beforeCurve, 0, 60));
  expect(reds(curved, 180, 256)).toBeGreaterThan(0.97 * reds(beforeCurve, 180, 256));
  await page.keyboard.press("Escape");
  await undoAll(page);

  // The shot held steady on what stands still in it.
  await goTo(page, 0);
  await page.getByRole("button", { name: "Follow something" }).click();
  await drag(page, [0.4, 0.35], [0.6, 0.65]);
  await page.getByRole("button", { name: "Both ways" }).click();
  await expect(page.getByRole("status", { name: "Following" })).toBeHidden({ timeout: 60_000 });
  await add(page, "Steady");
  await choose(page, "Track", "Track 1");
  await goTo(page, 0);
  const first_ = await codes(page);
  await goTo(page, 10);
  const steadied = await codes(page);
  const apart = shiftBetween(first_, steadied);
  console.log(`steadied, what was followed stands ${Math.hypot(...apart).toFixed(2)} px off after ten frames`);
  expect(Math.hypot(...apart)).toBeLessThan(0.5);
  await page.getByRole("button", { name: "On", exact: true }).click();
  await undoAll(page);
});
