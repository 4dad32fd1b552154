import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench, settled } from "../bench-page";
import { add, choose, codes, hash, inspect, type, undoAll, wearReady } from "./steps";

type Page = import("@playwright/test").Page;
/** Signal of the ramp's green curve at a step from its dark end, as the scope draws it: 0 to 100. */
const rampAt = async (page: Page, step: number) => {
  await settled(page);
  const points = await page
    .getByRole("region", { name: "Ramp" })
    .locator("polyline")
    .nth(1)
    .evaluate((node) =>
      node
        .getAttribute("points")!
        .split(" ")
        .map((pair) => pair.split(",").map(Number)),
    );
  return 100 - points[Math.min(points.length - 1, step)]![1]!;
};

test("J10 tone and diffusion judged on the ramp: a ready look at 35 %, toe and shoulder, a haze in the middle, the tonal part as a table", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openBench(page, "TL-050");
  // A ready look is put on and pulled back.
  await wearReady(page, "Valley fog", 0.35);
  await undoAll(page);

  // From scratch: softness, diffusion amount and reach, at 1:1 on small lamps.
  await page.getByRole("button", { name: "1:1" }).click();
  const bare = await hash(page);
  await add(page, "Diffusion");
  await choose(page, "Filter", "Milkglass");
  await type(page, "Strength", 1.5);
  const diffused = await hash(page);
  expect(diffused).not.toBe(bare);
  await page.getByRole("button", { name: "Fit" }).click();

  // Toe raised and shoulder lowered while looking at the ramp and the waveform: the curve bends where it was said.
  await page.keyboard.press("s");
  const scopes = page.getByRole("complementary", { name: "Scopes" });
  for (const name of ["Waveform", "Ramp"]) {
    const button = scopes.getByRole("button", { name, exact: true });
    if ((await button.getAttribute("aria-pressed")) === "false") await button.click();
  }
  await expect(page.getByRole("region", { name: "Ramp" }).locator("polyline").nth(1)).toBeAttached();
  await add(page, "Tone");
  await type(page, "Crush blacks", 0);
  await type(page, "Hold highlights", 0);
  // The ramp goes from -10 to +8 stops: -6 stops, mid-grey and +5 stops, as shares of its length.
  const steps = await page
    .getByRole("region", { name: "Ramp" })
    .locator("polyline")
    .nth(1)
    .evaluate((node) => node.getAttribute("points")!.split(" ").length);
  const at = (stops: number) => Math.round(((stops + 10) / 18) * (steps - 1));
  const even = [await rampAt(page, at(-6)), await rampAt(page, at(0)), await rampAt(page, at(5))] as const;
  await type(page, "Toe from", -3);
  await type(page, "Crush blacks", -0.5);
  await expect.poll(async () => await rampAt(page, at(-6))).toBeGreaterThan(even[0] + 0.3);
  expect(Math.abs((await rampAt(page, at(0))) - even[1])).toBeLessThan(1.5);
  await type(page, "Shoulder from", 2);
  await type(page, "Hold highlights", 0.6);
  await expect.poll(async () => await rampAt(page, at(5))).toBeLessThan(even[2] - 1);
  expect(Math.abs((await rampAt(page, at(0))) - even[1])).toBeLessThan(3);
  await page.keyboard.press("s");

  // A haze only in the middle, its matte shown.
  await type(page, "Haze", 25);
  await type(page, "Haze up to", 40);
  await type(page, "Threshold", -6);
  await inspect(page, "Matte of the key");
  const matte = await codes(page);
  const value = (x: number, y: number) => {
    let sum = 0;
    for (let j = -8; j < 8; j++)
      for (let i = -8; i < 8; i++) sum += matte[((Math.round(y * 360) + j) * 640 + Math.round(x * 640) + i) * 4 + 1]!;
    return sum / 256;
  };
  expect(value(0.03, 0.5)).toBe(0);
  expect(value(0.97, 0.5)).toBe(0);
  expect(Math.max(value(0.5, 0.5), value(0.5, 0.4), value(0.45, 0.5))).toBeGreaterThan(20);
  await inspect(page, "Picture");

  // Grain to finish, and the part that depends on no neighbour as a table, which says what it leaves out.
  await add(page, "Grain");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Export as a table" }).click();
  await page.getByRole("button", { name: /^Make the table/ }).click();
  const left = page.getByRole("list", { name: "Left out" });
  await expect(left).toContainText("Diffusion", { timeout: 60_000 });
  await expect(left).toContainText("Tone, its haze");
  await expect(left).toContainText("Grain");
  await page.keyboard.press("Escape");
  await undoAll(page);
});
