import { expect } from "@playwright/test";
import { test } from "./job";
import { openBench } from "../bench-page";
import { add, codes, drag, goTo, inspect, key, meanIn, type, undoAll } from "./steps";

test("J02 light shafts from a source that is dragged and keyed, their gain keyed to nothing, and a vignette over all", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  await goTo(page, 0);
  await add(page, "Shafts");
  await type(page, "Threshold", 2);
  await type(page, "Length", 80);
  await type(page, "Gain", 200);
  // The source is dragged on the picture to the far lamp, upper right; it is keyed there, and elsewhere at the end.
  const source = page.getByRole("button", { name: "Source of the rays" });
  await type(page, "Point across", 20);
  await type(page, "Point down", -20);
  await expect(source).toBeVisible();
  await drag(page, [0.7, 0.3], [0.8, 0.2]);
  await expect(page.getByRole("textbox", { name: "Point across, % of width" })).toHaveValue("30.0");
  // Keyed from far beyond the right of the frame to far beyond its left, through the lamp.
  await type(page, "Point across", 150);
  await key(page, "Point across");
  await key(page, "Point down");
  await goTo(page, 23);
  await type(page, "Point across", -150);
  await expect(page.getByRole("button", { name: "Point across: keyframe here" })).toBeVisible();

  // Rays point away from the source: what is added moves to the other side of the lamps as the source does.
  await inspect(page, "Contribution × 4");
  const sides: number[] = [];
  for (const place of [0, 11, 23]) {
    await goTo(page, place);
    sides.push((await meanIn(page, 0, 0.1, 0.5, 0.8)) - (await meanIn(page, 0.5, 0.1, 0.5, 0.8)));
  }
  expect(sides[0]!).toBeGreaterThan(sides[2]! + 1);
  expect(new Set(sides.map((side) => side.toFixed(2))).size).toBe(3);

  // Keyed to nothing, there are none, to the code value.
  await goTo(page, 12);
  await key(page, "Gain");
  await goTo(page, 23);
  await type(page, "Gain", 0);
  const none = await codes(page);
  expect(new Set(none.filter((_, i) => i % 4 === 0)).size).toBeLessThanOrEqual(2);
  await goTo(page, 12);
  expect(new Set((await codes(page)).filter((_, i) => i % 4 === 0)).size).toBeGreaterThan(2);
  await inspect(page, "Picture");

  // A vignette that darkens and softens the edges.
  await add(page, "Vignette");
  await type(page, "Exposure outside", -2);
  await type(page, "Blur outside", 2);
  const [corner, middle] = [await meanIn(page, 0, 0, 0.1, 0.1), await meanIn(page, 0.45, 0.45, 0.1, 0.1)];
  await page.getByRole("button", { name: "On", exact: true }).click();
  expect(await meanIn(page, 0, 0, 0.1, 0.1)).toBeGreaterThan(corner);
  expect(Math.abs((await meanIn(page, 0.45, 0.45, 0.1, 0.1)) - middle)).toBeLessThan(1.5);
  await undoAll(page);
});
