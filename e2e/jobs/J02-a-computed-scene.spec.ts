import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, piece } from "../bench-page";
import { add, choose, codes, drag, goTo, hash, inspect, key, meanIn, type, undoAll } from "./steps";

const sampled = (of: readonly number[]) => of.filter((_, i) => i % 4 === 1 && i % 7 === 0);

/** The code value that most of a picture has. */
function most(of: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const value of sampled(of)) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]![0];
}

/** The most that is added near light and, in the darker half of the frame's columns, far from it; code values. */
function byLight(picture: readonly number[], added: readonly number[], grey: number): { near: number; far: number } {
  const [width, height, cell] = [640, 360, 40];
  const cells: { light: number; change: number }[] = [];
  for (let y = 0; y < height; y += cell)
    for (let x = 0; x < width; x += cell) {
      let [light, change] = [0, 0];
      for (let j = y; j < y + cell; j++)
        for (let i = x; i < x + cell; i++) {
          const at = (j * width + i) * 4 + 1;
          light += picture[at]!;
          change = Math.max(change, Math.abs(added[at]! - grey));
        }
      cells.push({ light, change });
    }
  cells.sort((a, b) => a.light - b.light);
  const changes = cells.map(({ change }) => change);
  return { near: Math.max(...changes), far: Math.max(...changes.slice(0, 20)) };
}

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

  // Dirt shows only where light reaches it: what it adds is nothing in the dark half of the frame.
  await goTo(page, 0);
  await add(page, "Dirt");
  await type(page, "Gain", 150);
  await type(page, "Reach", 3);
  await inspect(page, "Contribution × 4");
  const dirt = await codes(page);
  const light = async () => {
    await inspect(page, "Picture");
    return codes(page);
  };
  const grey = most(dirt);
  const lit = await light();
  const { near, far } = byLight(lit, dirt, grey);
  expect(near).toBeGreaterThan(4);
  expect(far).toBeLessThanOrEqual(1);

  // Drifting snow from another shot, faintly; it moves with the frames.
  await add(page, "Plate");
  const bare = await hash(page);
  await page.getByRole("combobox", { name: "Plate", exact: true }).selectOption("TL-040");
  await choose(page, "Lay over", "Screen");
  await type(page, "Mix", 0.1);
  const snow = await hash(page);
  expect(snow).not.toBe(bare);
  await type(page, "Time offset", 5);
  expect(await hash(page)).not.toBe(snow);

  // A print table as the view, and highlights held: the brightest are lower, the dark is where it was.
  await piece(page, "Plate").click();
  const table = Array.from({ length: 17 }, (_, i) => (0.93 * (i / 16) ** 1.05 + 0.02).toFixed(6));
  const cube = `TITLE "Print"\nLUT_1D_SIZE 17\n${table.map((value) => `${value} ${value} ${value}`).join("\n")}\n`;
  await page
    .getByLabel("Table to import")
    .setInputFiles({ name: "print.cube", mimeType: "text/plain", buffer: Buffer.from(cube) });
  await expect(page.getByLabel("Transform")).toHaveValue("lut");
  await add(page, "Tone");
  const printed = await codes(page);
  await type(page, "Hold highlights", 0.6);
  await type(page, "Crush blacks", 0);
  const held = await codes(page);
  expect(Math.max(...sampled(held))).toBeLessThan(Math.max(...sampled(printed)));

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
