import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench } from "../bench-page";
import { add, codes, goTo, same, type, undoAll } from "./steps";

/** How far red and blue have come apart over a part of the frame, code values, against a picture without. */
const apart = (a: number[], b: number[], [x0, x1]: [number, number]) => {
  let [sum, count] = [0, 0];
  for (let y = 180; y < 330; y++)
    for (let x = Math.round(x0 * 640); x < x1 * 640; x++) {
      const i = (y * 640 + x) * 4;
      sum += Math.abs(a[i + 2]! - b[i + 2]!);
      count++;
    }
  return sum / count;
};

test("J07 green comes one frame late and blue three: what moves has coloured edges, what stands still has none", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  await goTo(page, 10);
  const before = await codes(page);
  await add(page, "Channel lag");
  // It takes the shot's own frames, so it goes before everything that moves light.
  for (let i = 0; i < 10; i++) await page.keyboard.press("Alt+ArrowLeft");
  await type(page, "Green lags", 1);
  await type(page, "Blue lags", 3);
  const after = await codes(page);
  // The figure has moved about the first third of the frame; the printed timetable hangs at the right.
  expect(apart(after, before, [0.3, 0.5])).toBeGreaterThan(4 * apart(after, before, [0.78, 0.95]) + 0.5);
  // The shot's first frame holds: there is nothing before it to lag behind.
  await goTo(page, 0);
  const held = await codes(page);
  await page.getByRole("button", { name: "On", exact: true }).click();
  expect(same(await codes(page), held)).toBe(true);
  // It plays, every frame of it.
  await page.getByRole("button", { name: "Off", exact: true }).click();
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await expect(page.getByRole("status", { name: "Rate of playing" })).toContainText("fps", { timeout: 30_000 });
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await undoAll(page);
});
