import { expect } from "@playwright/test";
import { test } from "./job";
import { openBench } from "../bench-page";
import { add, codes, inspect, same, type, undoAll } from "./steps";

test("J13 highlights are smeared around the axis, the centre is spared by an area, and nothing gets darker", async ({
  page,
}) => {
  await openBench(page, "TL-030");
  await add(page, "Swirl");
  await page.getByLabel("Lighten only").check();
  await type(page, "Swirl in the corner", 8);
  await type(page, "Colour fringe", 0.4);
  const swirled = await codes(page);
  await page.getByRole("button", { name: "On", exact: true }).click();
  const without = await codes(page);
  expect(same(swirled, without)).toBe(false);
  // Nothing is darker than before, but for a grain that follows the light.
  const darker = swirled.filter((value, i) => i % 4 < 3 && value < without[i]! - 3).length;
  expect(darker / (swirled.length * 0.75)).toBeLessThan(0.002);
  await page.getByRole("button", { name: "Off", exact: true }).click();
  // The centre is spared: an oval, inverted.
  await page.getByLabel("Add an area").selectOption({ label: "Shape" });
  await page.getByRole("checkbox", { name: "Inverted" }).check();
  await inspect(page, "Area as a matte");
  const matte = await codes(page);
  const at = (x: number, y: number) => matte[(Math.round(y * 360) * 640 + Math.round(x * 640)) * 4]!;
  expect(at(0.5, 0.5)).toBe(0);
  expect(at(0.02, 0.5)).toBe(255);
  await inspect(page, "Picture");
  const spared = await codes(page);
  const middle = (of: number[]) => {
    const rows: number[] = [];
    for (let y = 150; y < 210; y++) rows.push(...of.slice((y * 640 + 280) * 4, (y * 640 + 360) * 4));
    return rows;
  };
  const near = (a: number[], b: number[]) => Math.max(...a.map((value, i) => Math.abs(value - b[i]!)));
  expect(near(middle(spared), middle(without))).toBeLessThanOrEqual(1);
  expect(same(spared, without)).toBe(false);
  await undoAll(page);
});
