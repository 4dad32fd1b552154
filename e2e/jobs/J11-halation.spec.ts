import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench } from "../bench-page";
import { add, brightest, codes, hash, inspect, meanIn, same, type, undoAll } from "./steps";

test("J11 halation: which light, the fringe red then green then back, outside the lamps only; a second glow; grain", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openBench(page, "TL-050");
  await add(page, "Halation");
  await page.keyboard.press("a");
  await inspect(page, "Matte of the key");
  await type(page, "Threshold", 3);
  const taken = await meanIn(page, 0, 0, 1, 1);
  await type(page, "Threshold", 5);
  expect(await meanIn(page, 0, 0, 1, 1)).toBeLessThan(taken);
  await type(page, "Threshold", 3);
  await inspect(page, "Picture");
  const lamp = await brightest(page);
  await type(page, "Strength", 3);
  const red = await codes(page);
  await page.keyboard.press("x");
  const none = await codes(page);
  await page.keyboard.press("x");
  expect(same(red, none)).toBe(false);
  // The fringe lies outside the lamps: where it is white it stays white, and around it red grows most.
  const [lx, ly] = [Math.round(lamp.x * 640), Math.round(lamp.y * 360)];
  const core = (ly * 640 + lx) * 4;
  for (let c = 0; c < 3; c++) expect(Math.abs(red[core + c]! - none[core + c]!)).toBeLessThanOrEqual(3);
  const grown = (of: number[], c: number) =>
    of.reduce((sum, value, i) => (i % 4 === c ? sum + value - none[i]! : sum), 0);
  expect(grown(red, 0)).toBeGreaterThan(2 * Math.max(1, grown(red, 2)));
  const lit = none.flatMap((value, i) => (i % 4 === 0 && value >= 250 ? [i] : []));
  const within = lit.reduce((sum, i) => sum + Math.abs(red[i]! - none[i]!), 0) / lit.length;
  expect(lit.length).toBeGreaterThan(20);
  expect(within).toBeLessThan(2);

  // Strength and reach; the colour of the fringe red, then green, then back.
  const layers = async (r: number, g: number, b: number) => {
    for (const [name, value] of Object.entries({ red: r, green: g, blue: b }))
      await page.getByRole("spinbutton", { name: new RegExp(`^Layers, ${name}`) }).fill(String(value));
  };
  const asItWas = await Promise.all(
    ["red", "green", "blue"].map((name) =>
      page.getByRole("spinbutton", { name: new RegExp(`^Layers, ${name}`) }).inputValue(),
    ),
  );
  const first = await hash(page);
  await layers(0.1, 8, 0.1);
  const green = await codes(page);
  expect(grown(green, 1)).toBeGreaterThan(grown(green, 0));
  await layers(...(asItWas.map(Number) as [number, number, number]));
  expect(await hash(page)).toBe(first);

  // A wider second glow, on and off.
  await page.keyboard.press("a");
  await add(page, "Glow");
  await type(page, "Size", 14);
  const glowing = await hash(page);
  await page.keyboard.press("x");
  expect(await hash(page)).not.toBe(glowing);
  await page.keyboard.press("x");
  expect(await hash(page)).toBe(glowing);

  // Grain: strength, size, softness, saturation, each of them seen.
  await add(page, "Grain");
  let before = await hash(page);
  for (const [label, value] of [
    ["Strength", 2],
    ["Grain size", 24],
    ["Softness", 0.7],
    ["Channel correlation", 0.1],
  ] as const) {
    await type(page, label, value);
    const now = await hash(page);
    expect(now, label).not.toBe(before);
    before = now;
  }
  await undoAll(page);
});
