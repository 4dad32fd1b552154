import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, settled } from "../bench-page";
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

  // Seen on the waveform, and before and after in a corner at 4:1.
  await page.keyboard.press("s");
  const scopes = page.getByRole("complementary", { name: "Scopes" });
  const waveform = scopes.getByRole("button", { name: "Waveform", exact: true });
  if ((await waveform.getAttribute("aria-pressed")) === "false") await waveform.click();
  await expect(scopes.getByRole("region", { name: "Waveform" }).getByRole("img").first()).toBeVisible();
  await page.keyboard.press("s");
  await page.getByLabel("Compare with").selectOption({ label: "Without this element" });
  await page.keyboard.press("c");
  const corners = page.getByRole("group", { name: "Corners" });
  await corners.getByRole("button", { name: "4:1" }).click();
  await page.keyboard.press("Shift+E");
  const pane = page.locator('canvas[data-picture="Upper right"]');
  const before = page.locator('canvas[data-picture="reference Upper right"]');
  await expect(before).toBeVisible();
  await settled(page);
  const sum = (of: typeof pane) =>
    of.evaluate((node: HTMLCanvasElement) => {
      const { data } = node.getContext("2d")!.getImageData(node.width - 160, 0, 160, 120);
      return data.reduce((total, value, i) => ((i & 3) === 3 ? total : total + value), 0);
    });
  expect(await sum(pane)).not.toBe(await sum(before));
  await page.keyboard.press("Shift+E");
  await page.keyboard.press("c");
  await undoAll(page);
});
