import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { figurePlace } from "../../src/demo/scenes/ticket-window";
import { openBench, piece, settled } from "../bench-page";
import { add, codes, drag, goTo, inspect, same, type, undoAll } from "./steps";

const SIZE = { width: 640, height: 360 };
/** The figure's coat, a share of its height up. */
const UP = 0.3;
const placeAt = (frame: number) => figurePlace(frame, UP, SIZE.width, SIZE.height);

test("J09 all is softened but an oval that follows the figure through the shot, set right on one frame", async ({
  page,
}) => {
  test.setTimeout(240_000);
  await openBench(page, "TL-020");
  const start = 12;
  await goTo(page, start - 1);
  // The figure is followed both ways from the middle of the shot.
  await page.getByRole("button", { name: "Follow something" }).click();
  const { x, y } = placeAt(start);
  const half = { x: 34 / SIZE.width, y: 62 / SIZE.height };
  await drag(
    page,
    [x / SIZE.width - half.x, y / SIZE.height - half.y],
    [x / SIZE.width + half.x, y / SIZE.height + half.y],
  );
  await page.getByRole("button", { name: "Both ways" }).click();
  await expect(page.getByRole("status", { name: "Following" })).toBeVisible();
  await expect(page.getByRole("status", { name: "Following" })).toBeHidden({ timeout: 60_000 });
  await expect(page.getByRole("textbox", { name: "Name of Track 1" })).toBeVisible();
  // How sure it is, frame by frame, stands in the time drawer.
  await page.keyboard.press("t");
  await expect(page.getByRole("img", { name: "Confidence of the track Track 1" })).toBeVisible();
  await page.keyboard.press("t");

  // Set right on the shot's last frame: it goes on from there.
  await goTo(page, 23);
  const knob = page.getByRole("button", { name: "Track 1 on this frame" });
  const box = (await knob.boundingBox())!;
  const wanted = placeAt(24);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  const canvas = (await page.locator("canvas[data-picture=picture]").boundingBox())!;
  await page.mouse.move(
    canvas.x + (wanted.x / SIZE.width) * canvas.width,
    canvas.y + (wanted.y / SIZE.height) * canvas.height,
    { steps: 5 },
  );
  await page.mouse.up();
  await expect(page.getByRole("status", { name: "Following" })).toBeHidden();

  // All of it is softened, but for an oval that goes along.
  await goTo(page, start - 1);
  await add(page, "Edge softness");
  await type(page, "Blur in the corner", 60);
  await type(page, "Starts at", 0);
  await page.getByLabel("Add an area").selectOption({ label: "Shape" });
  await page.getByRole("checkbox", { name: "Inverted" }).check();
  await type(page, "Across", ((100 * x) / SIZE.width - 50).toFixed(2));
  await type(page, "Down", ((100 * y) / SIZE.height - 50).toFixed(2));
  await type(page, "Width", 22);
  await type(page, "Height", 36);
  await type(page, "Outer line", 1.2);
  await page.getByLabel("Track of area 1").selectOption({ label: "Track 1" });
  await inspect(page, "Area as a matte");
  // On every fourth frame the oval's middle is where the figure is, within 2 px.
  const off: number[] = [];
  for (let frame = 1; frame <= 24; frame += 4) {
    await goTo(page, frame - 1);
    await settled(page);
    const middle = await page.locator("canvas[data-picture=picture]").evaluate((node: HTMLCanvasElement) => {
      const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
      let [sum, mx, my] = [0, 0, 0];
      for (let i = 0; i < data.length; i += 4) {
        const at = i / 4;
        // The oval is left out of the area: it is what is black.
        const clear = 255 - data[i]!;
        sum += clear;
        mx += clear * ((at % node.width) + 0.5);
        my += clear * (Math.floor(at / node.width) + 0.5);
      }
      return { x: mx / sum, y: my / sum };
    });
    const true_ = placeAt(frame);
    off.push(Math.hypot(middle.x - true_.x, middle.y - true_.y));
  }
  console.log(`the oval's middle is off by ${off.map((value) => value.toFixed(2)).join(", ")} px`);
  expect(Math.max(...off)).toBeLessThan(2);
  await inspect(page, "Picture");

  // Inside it nothing is softened, to the code value; outside it is.
  await goTo(page, start - 1);
  const softened = await codes(page);
  await page.getByRole("button", { name: "On", exact: true }).click();
  const sharp = await codes(page);
  const most = (left: number, top: number) => {
    let largest = 0;
    for (let py = Math.round(top) - 8; py < top + 8; py++)
      for (let px = Math.round(left) - 8; px < left + 8; px++)
        for (let c = 0; c < 3; c++) {
          const at = (py * SIZE.width + px) * 4 + c;
          largest = Math.max(largest, Math.abs(softened[at]! - sharp[at]!));
        }
    return largest;
  };
  expect(most(x, y)).toBeLessThanOrEqual(1);
  expect(most(0.85 * SIZE.width, 0.4 * SIZE.height)).toBeGreaterThan(8);
  await page.getByRole("button", { name: "Off", exact: true }).click();

  // Highlights warm and lit, shadows blue and darker.
  await add(page, "Trim");
  const before = await codes(page);
  const shift = async (label: string, values: Record<string, number>) => {
    for (const [name, value] of Object.entries(values))
      await page.getByRole("spinbutton", { name: `${label}, ${name}` }).fill(String(value));
  };
  await shift("Highlights", { red: 1.3, blue: 0.7 });
  await shift("Shadows", { red: 0.6, blue: 1.5 });
  const tinted = await codes(page);
  const byTone = (from: number, to: number) => {
    let [red, blue, count] = [0, 0, 0];
    for (let i = 0; i < before.length; i += 4) {
      if (before[i + 1]! < from || before[i + 1]! >= to) continue;
      red += tinted[i]! - before[i]!;
      blue += tinted[i + 2]! - before[i + 2]!;
      count++;
    }
    return { warmer: (red - blue) / count, count };
  };
  const [dark, bright] = [byTone(4, 40), byTone(150, 245)];
  expect(Math.min(dark.count, bright.count)).toBeGreaterThan(500);
  expect(dark.warmer).toBeLessThan(-1);
  expect(bright.warmer).toBeGreaterThan(1);

  // The figure is sharpened inside the same oval: the area is copied from what spares it, and turned round.
  await page.keyboard.press("Escape");
  await piece(page, "Edge softness").click();
  await page.getByRole("button", { name: "Copy the areas" }).click();
  await add(page, "Sharpen");
  const soft = await codes(page);
  await page.getByRole("button", { name: "Paste the copied areas" }).click();
  await page.getByRole("checkbox", { name: "Inverted" }).uncheck();
  await type(page, "Strength", 2);
  const crisp = await codes(page);
  await page.getByRole("button", { name: "On", exact: true }).click();
  const plain = await codes(page);
  const changed = (left: number, top: number) => {
    let largest = 0;
    for (let py = Math.round(top) - 20; py < top + 20; py++)
      for (let px = Math.round(left) - 12; px < left + 12; px++) {
        const at = (py * SIZE.width + px) * 4 + 1;
        largest = Math.max(largest, Math.abs(crisp[at]! - plain[at]!));
      }
    return largest;
  };
  expect(changed(x, y)).toBeGreaterThan(3);
  expect(changed(0.85 * SIZE.width, 0.4 * SIZE.height)).toBe(0);
  expect(same(soft, plain)).toBe(false);
  await undoAll(page);
});
