import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { readDpx } from "../../src/formats/dpx/dpx";
import { test } from "../restored-test";
import { dragBy, openBench, piece } from "../bench-page";
import { brightest, choose, codes, hash, inspect, meanIn, onScreen, type } from "./steps";

/** Longer runs of one code value are seen as bands, px. */
const MAX_STEP_LENGTH = 10;

/**
 * Renders the frame at ten bits; the mean over its rows of the longest run of one code value that is neither black nor
 * white, px.
 */
async function longestRuns(page: Page): Promise<number> {
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await page.getByRole("link", { name: "Renders" }).click();
  await page.getByLabel("Shot").selectOption("TL-010");
  await page.getByLabel("Format").selectOption("DPX 10 bits");
  await page.getByLabel("From frame").fill("9");
  await page.getByLabel("To frame").fill("9");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "DPX 10 bits" }).first();
  await expect(row).toContainText("Done", { timeout: 60_000 });
  const out = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
  const name = readdirSync(out).find((entry) => entry.endsWith(".dpx"))!;
  const { width, height, pixels } = readDpx(name, readFileSync(join(out, name)));
  let sum = 0;
  for (let y = 0; y < height; y++) {
    let [longest, run] = [1, 1];
    for (let x = 1; x < width; x++) {
      const value = pixels.data[(y * width + x) * 4 + 1]!;
      run = value === pixels.data[(y * width + x - 1) * 4 + 1] && value > 0 && value < 1023 ? run + 1 : 1;
      longest = Math.max(longest, run);
    }
    sum += longest;
  }
  await row.getByRole("button", { name: /^Remove render/ }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  return sum / height;
}

test("J03 a glow by its matte, threshold and knee on the histogram, a drawn roll-off, a tint from the disc, only within an area", async ({
  page,
}) => {
  test.setTimeout(180_000);
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
  await inspect(page, "Area as a tint");
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

  // Only one colour of light, picked from the picture; its matte is cleaned to black and to white.
  await page.getByRole("button", { name: "Remove area 1" }).click();
  await page.getByLabel("Add an area").selectOption({ label: "Key on light" });
  await page.getByRole("button", { name: "Pick a colour" }).click();
  const lamp = await brightest(page);
  await page.mouse.click(...(await onScreen(page, lamp.x, lamp.y)));
  await expect(page.getByRole("img", { name: "The picked colour" })).toBeVisible();
  await type(page, "Colour softness", 0.3);
  await inspect(page, "Area as a matte");
  const greys = async () => (await codes(page)).filter((value, i) => i % 4 === 1 && value > 2 && value < 253).length;
  const unclean = await greys();
  expect(unclean).toBeGreaterThan(0);
  await type(page, "Matte black point", 0.45);
  await type(page, "Matte white point", 0.55);
  expect(await greys()).toBeLessThan(unclean / 2);
  await page.getByRole("button", { name: "Remove area 1" }).click();
  await inspect(page, "Picture");

  // Without grain to hide it, and wide: rendered at ten bits, it steps nowhere along a line for long.
  await piece(page, "Grain").click();
  await page.keyboard.press("x");
  await piece(page, "Glow").click();
  await type(page, "Size", 25);
  await type(page, "Dither", 3);
  expect(await longestRuns(page)).toBeLessThan(MAX_STEP_LENGTH);
});
