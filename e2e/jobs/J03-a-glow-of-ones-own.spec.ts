import { expect } from "@playwright/test";
import { test } from "./job";
import { dragBy, openBench, piece } from "../bench-page";
import { choose, hash, inspect, meanIn, type, undoAll } from "./steps";

test("J03 a glow by its matte, threshold and knee on the histogram, a drawn roll-off, a tint from the disc, only within an area", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  await piece(page, "Glow").click();
  await inspect(page, "Matte of the key");
  const before = await meanIn(page, 0, 0, 1, 1);
  await choose(page, "Key on", "Luminance");
  // Threshold and knee are dragged over the histogram of the frame's light.
  const threshold = page.getByRole("textbox", { name: "Threshold, stops" });
  const was = Number(await threshold.inputValue());
  await dragBy(page, page.getByRole("slider", { name: "Threshold on the histogram" }), -26, 0);
  expect(Number(await threshold.inputValue())).toBeLessThan(was - 1);
  await page.getByRole("slider", { name: "Knee on the histogram" }).press("Shift+ArrowRight");
  await expect.poll(() => meanIn(page, 0, 0, 1, 1)).toBeGreaterThan(before);
  await inspect(page, "Picture");

  await type(page, "Size", 9);
  await type(page, "Width to height", 2);
  await type(page, "Gain", 60);
  const plain = await hash(page);
  // A roll-off by a curve that is drawn: a point is dragged down, another added by a double press.
  const curve = page.getByRole("group", { name: "Roll-off curve: points of the curve" });
  await curve.scrollIntoViewIfNeeded();
  const box = (await curve.boundingBox())!;
  await page.mouse.dblclick(box.x + box.width * 0.6, box.y + box.height * 0.5);
  await expect(curve.getByRole("button")).toHaveCount(3);
  await curve.getByRole("button", { name: /point 2/ }).press("Shift+ArrowDown");
  await curve.getByRole("button", { name: /point 2/ }).press("Shift+ArrowDown");
  const rolled = await hash(page);
  expect(rolled).not.toBe(plain);

  // Tint of the tail on the disc; its numbers follow, and the amount is kept.
  await page.getByRole("button", { name: "Tail tint: open the disc" }).click();
  const blue = page.getByRole("spinbutton", { name: "Tail tint, blue" });
  const sumOf = async () => {
    const values = await Promise.all(
      ["red", "green", "blue"].map((name) => page.getByRole("spinbutton", { name: `Tail tint, ${name}` }).inputValue()),
    );
    return values.map(Number).reduce((a, b) => a + b, 0);
  };
  const [amount, blueBefore] = [await sumOf(), Number(await blue.inputValue())];
  await page.getByRole("button", { name: /Tail tint on the disc/ }).press("Shift+ArrowDown");
  expect(Number(await blue.inputValue())).not.toBe(blueBefore);
  expect(Math.abs((await sumOf()) - amount)).toBeLessThan(0.01);

  // Split along x in seven steps with linear weights.
  await choose(page, "Split", "Across");
  await type(page, "Steps", 7);
  const split = await hash(page);
  expect(split).not.toBe(rolled);

  // Only the tower: an area turned, feathered by its handle, inverted and back.
  await page.getByLabel("Add an area").selectOption({ label: "Shape" });
  await inspect(page, "Area over the picture");
  await page.getByRole("button", { name: "Shape: turn" }).press("Shift+ArrowRight");
  expect(Number(await page.getByRole("textbox", { name: "Rotation, °" }).inputValue())).toBeGreaterThan(0);
  await page.getByRole("button", { name: "Shape: outer line" }).press("Shift+ArrowLeft");
  await page.getByRole("button", { name: "Shape: feather" }).press("Shift+ArrowLeft");
  expect(Number(await page.getByRole("textbox", { name: "Feather, % of height" }).inputValue())).toBeGreaterThan(0);
  const over = await hash(page);
  await page.getByRole("checkbox", { name: "Inverted" }).check();
  expect(await hash(page)).not.toBe(over);
  await page.getByRole("checkbox", { name: "Inverted" }).uncheck();
  await expect.poll(() => hash(page)).toBe(over);
  await inspect(page, "Picture");
  await undoAll(page);
});
