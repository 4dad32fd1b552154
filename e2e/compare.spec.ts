import { expect } from "@playwright/test";
import { test } from "./restored-test";
import { dragBy, openBench, piece, picture, pixels, settled } from "./bench-page";

const reference = (page: import("@playwright/test").Page) => page.locator("canvas[data-picture=reference]");
const bar = (page: import("@playwright/test").Page) => page.getByRole("group", { name: "Compare" });

test("a wipe is moved and turned on the picture and by arrow keys, and is there again after a reload", async ({
  page,
}) => {
  await openBench(page);
  await bar(page).getByLabel("Compare with").selectOption({ label: "Without the path" });
  await bar(page).getByRole("button", { name: "Wipe" }).click();
  await settled(page);
  const clip = () => reference(page).evaluate((node) => getComputedStyle(node.parentElement!).clipPath);
  expect(await clip()).toMatch(/^polygon/);
  const upright = await clip();
  const angle = page.getByRole("slider", { name: "Angle of the wipe" });
  await dragBy(page, angle, 70, 70);
  expect(Math.abs(Number(await angle.getAttribute("aria-valuenow")))).toBeGreaterThan(30);
  expect(await clip()).not.toBe(upright);
  await angle.press("Shift+ArrowRight");
  const edge = page.getByRole("slider", { name: "Edge of the wipe" });
  const before = Number(await edge.getAttribute("aria-valuenow"));
  await dragBy(page, edge, -120, 0);
  expect(Number(await edge.getAttribute("aria-valuenow"))).toBeLessThan(before - 5);
  const turned = await clip();
  await page.reload();
  await settled(page);
  await expect(reference(page)).toBeVisible();
  expect(await clip()).toBe(turned);
  await edge.dblclick();
  expect(await clip()).toBe(upright);
  await page.keyboard.press("e");
  await expect(reference(page)).toHaveCount(0);
});

test("side by side, both are looked at in one place; a version, the footage and another look are what they are by themselves", async ({
  page,
}) => {
  await openBench(page, "TL-040");
  const own = (await pixels(picture(page))).hash;
  await page.getByRole("button", { name: /^Versions/ }).click();
  await page.getByLabel("Name of the version").fill("As it was");
  await page.getByRole("button", { name: "Keep this look" }).click();
  await expect(page.getByText("Kept as As it was")).toBeVisible();
  await page.keyboard.press("Escape");
  await piece(page, "Grain").click();
  await page.keyboard.press("x");
  await settled(page);
  const changed = (await pixels(picture(page))).hash;
  expect(changed).not.toBe(own);

  const kept = (await bar(page)
    .getByRole("option", { name: /As it was$/ })
    .textContent())!;
  await bar(page).getByLabel("Compare with").selectOption({ label: kept });
  await page.keyboard.press("Shift+E");
  await settled(page);
  await expect(page.getByText(`Version ${kept.replace(". ", ", ")}`)).toBeVisible();
  expect((await pixels(reference(page))).hash).toBe(own);
  expect((await pixels(picture(page))).hash).toBe(changed);
  // One pan and zoom for both: what stands in one stands in the other.
  const places = () =>
    Promise.all([picture(page), reference(page)].map(async (of) => await of.evaluate((n) => n.style.transform)));
  await page.getByRole("button", { name: "2:1" }).click();
  const [left, right] = await places();
  expect(left).toBe(right);
  const box = (await page.getByRole("region", { name: "Picture" }).boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.75, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.7, box.y + box.height * 0.4, { steps: 4 });
  await page.mouse.up();
  const [movedLeft, movedRight] = await places();
  expect(movedLeft).toBe(movedRight);
  expect(movedLeft).not.toBe(left);
  await page.getByRole("button", { name: "Fit" }).click();

  const seen = new Set([own, changed]);
  for (const label of ["The footage", "Last service"]) {
    await bar(page).getByLabel("Compare with").selectOption({ label });
    await settled(page);
    await expect.poll(async () => seen.has((await pixels(reference(page))).hash)).toBe(false);
    seen.add((await pixels(reference(page))).hash);
  }
  await page.keyboard.press("Shift+E");
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: /^Versions/ }).click();
  await page.getByRole("button", { name: `Remove version ${parseInt(kept, 10)}` }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(bar(page).getByRole("option", { name: kept })).toHaveCount(0);
});

test("a difference is mid-grey where nothing differs, more of it the more times it is shown; held, the reference is alone", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  const own = (await pixels(picture(page))).hash;
  await bar(page).getByLabel("Compare with").selectOption({ label: "Without the path" });
  await page.keyboard.press("Shift+D");
  await expect(page.getByText(/^Difference from without the path, 8 times/)).toBeVisible();
  /** Mean distance from the picture's commonest code value. */
  const spread = async () => {
    await settled(page);
    return picture(page).evaluate((node: HTMLCanvasElement) => {
      const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
      const counts = new Array<number>(256).fill(0);
      for (let i = 1; i < data.length; i += 4) counts[data[i]!]!++;
      const middle = counts.indexOf(Math.max(...counts));
      let sum = 0;
      for (let i = 1; i < data.length; i += 4) sum += Math.abs(data[i]! - middle);
      return sum / (data.length / 4);
    });
  };
  const few = await spread();
  await bar(page).getByLabel("Difference, times").selectOption("1");
  await expect.poll(spread).toBeLessThan(few * 0.8);
  // From itself, it differs nowhere.
  await page.getByRole("button", { name: /^Versions/ }).click();
  await page.getByLabel("Name of the version").fill("The same");
  await page.getByRole("button", { name: "Keep this look" }).click();
  await page.keyboard.press("Escape");
  const kept = (await bar(page)
    .getByRole("option", { name: /The same$/ })
    .textContent())!;
  await bar(page).getByLabel("Compare with").selectOption({ label: kept });
  await expect.poll(spread).toBe(0);
  await page.keyboard.press("Shift+D");
  await settled(page);
  expect((await pixels(picture(page))).hash).toBe(own);
  await bar(page).getByLabel("Compare with").selectOption({ label: "Without the path" });
  await page.keyboard.down("r");
  await expect(reference(page)).toBeVisible();
  await settled(page);
  expect((await pixels(reference(page))).hash).not.toBe(own);
  await page.keyboard.up("r");
  await expect(reference(page)).toHaveCount(0);
});
