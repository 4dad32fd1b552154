import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, piece } from "../bench-page";
import { add, choose, codes, inspect, meanIn, same, type, undoAll } from "./steps";

test("J15 a streak with a rolled-off curve from teal to magenta, then a warm glow whose hold leaves highlights as they were", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  await piece(page, "Streak").click();
  await type(page, "Threshold", 4);
  await inspect(page, "Matte of the key");
  const taken = await meanIn(page, 0, 0, 1, 1);
  expect(taken).toBeGreaterThan(0);
  expect(taken).toBeLessThan(30);
  await inspect(page, "Picture");
  const before = await codes(page);
  await page.getByLabel("Roll-off curve: begin from").selectOption({ label: "Soft shoulder" });
  await page.getByRole("spinbutton", { name: "Tint, red" }).fill("0.2");
  await page.getByRole("spinbutton", { name: "Tint of the tail, red" }).fill("1.2");
  await page.getByRole("spinbutton", { name: "Tint of the tail, green" }).fill("0.2");
  await choose(page, "Lay over", "Lighten");
  await type(page, "Mix", 0.3);
  await page.getByRole("button", { name: "On", exact: true }).click();
  const bare = await codes(page);
  await page.getByRole("button", { name: "Off", exact: true }).click();
  const streaked = await codes(page);
  expect(same(streaked, before)).toBe(false);
  // Laid over by lighten, a pixel is the picture's or brighter, but for the grain after it.
  const darker = streaked.filter((value, i) => i % 4 < 3 && value < bare[i]! - 2).length;
  expect(darker / streaked.length).toBeLessThan(0.002);
  expect(streaked.filter((value, i) => value > bare[i]! + 2).length).toBeGreaterThan(100);

  // A wide warm glow by screen, which leaves what is brighter than its hold alone.
  await page.keyboard.press("Escape");
  await add(page, "Glow");
  await choose(page, "Lay over", "Screen");
  await type(page, "Size", 16);
  await type(page, "Gain", 90);
  await type(page, "Hold highlights", 2);
  await type(page, "Mix", 0.45);
  const with_ = await codes(page);
  await page.getByRole("button", { name: "On", exact: true }).click();
  const without = await codes(page);
  expect(same(with_, without)).toBe(false);
  // Lamps, far above the hold, are the same code value with it and without, but for the grain and the lens after it.
  const lamps = without.flatMap((value, i) => (i % 4 === 1 && value >= 254 ? [i] : []));
  expect(lamps.length).toBeGreaterThan(50);
  const alike = lamps.filter((i) => Math.abs(with_[i]! - without[i]!) <= 1).length;
  expect(alike / lamps.length).toBeGreaterThan(0.97);
  // Both off, and on again, code for code: the glow is off now.
  // The streak may lie in the barrel by now: it is come to from piece to piece.
  const streak = page.getByRole("heading", { level: 2, name: "Streak", exact: true });
  for (let i = 0; i < 20 && !(await streak.isVisible()); i++) await page.keyboard.press("]");
  await page.keyboard.press("x");
  expect(same(await codes(page), without)).toBe(false);
  await page.keyboard.press("x");
  await page.keyboard.press("Escape");
  expect(same(await codes(page), without)).toBe(true);
  await undoAll(page);
});
