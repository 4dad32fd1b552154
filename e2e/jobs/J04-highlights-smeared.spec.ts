import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench } from "../bench-page";
import { add, codes, inspect, same, type, undoAll } from "./steps";

test("J04 the brightest light is smeared along 0°, then 90°, then back; a longer, dimmer one follows, and the dark stays", async ({
  page,
}) => {
  await openBench(page, "TL-040");
  await add(page, "Streak");
  await type(page, "Threshold", 3.1);
  await type(page, "Knee", 0.2);
  await type(page, "Gain", 60);
  // A matte of the brightest only: most of it is black.
  await inspect(page, "Matte of the key");
  const matte = await codes(page);
  const white = matte.filter((value, i) => i % 4 === 0 && value > 2).length / (matte.length / 4);
  expect(white).toBeGreaterThan(0);
  expect(white).toBeLessThan(0.2);
  await inspect(page, "Picture");
  const along = await codes(page);
  await type(page, "Angle", 90);
  const upright = await codes(page);
  expect(same(upright, along)).toBe(false);
  await type(page, "Angle", 0);
  expect(same(await codes(page), along)).toBe(true);
  // A second one, duplicated from the first, longer and dimmer.
  await page.getByRole("heading", { level: 2, name: "Streak" }).click();
  await page.keyboard.press("Control+d");
  await type(page, "Gain", 15);
  await page.getByLabel("Length, red, % of width").fill("40");
  const twice = await codes(page);
  expect(same(twice, along)).toBe(false);
  // By itself a streak runs along its rows: those that hold none of the brightest light stay as they were, to the code
  // value.
  await page.getByRole("heading", { level: 2, name: "Streak" }).click();
  await page.keyboard.press("a");
  await expect(page.getByText("This element alone", { exact: true })).toBeVisible();
  await inspect(page, "Matte of the key");
  const taken = await codes(page);
  await inspect(page, "Picture");
  const alone = await codes(page);
  await page.keyboard.press("x");
  const footage = await codes(page);
  expect(same(alone, footage)).toBe(false);
  const width = 640;
  const lit = new Set<number>();
  for (let i = 0; i < taken.length; i += 4) if (taken[i]! > 0) lit.add(Math.floor(i / 4 / width));
  const dark = Array.from({ length: 360 }, (_, y) => y).filter((y) =>
    Array.from({ length: 31 }, (_, k) => y + k - 15).every((row) => !lit.has(row)),
  );
  expect(dark.length).toBeGreaterThan(10);
  const row = (of: number[], y: number) => of.slice(y * width * 4, (y + 1) * width * 4);
  expect(dark.filter((y) => !same(row(alone, y), row(footage, y)))).toEqual([]);
  await undoAll(page);
});
