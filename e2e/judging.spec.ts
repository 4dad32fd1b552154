import sharp from "sharp";
import { expect } from "@playwright/test";
import { add, choose, hash, type, undoAll } from "./jobs/steps";
import { test } from "./restored-test";
import { listen, openBench, picture, piece, settled, takeIn } from "./bench-page";

type Page = Parameters<typeof openBench>[0];
const corner = (page: Page, name: string) => page.locator(`canvas[data-picture="${name}"]`);

test("the centre and the corners are looked at together: moved symmetrically, compared and inspected in each", async ({
  page,
}) => {
  const said = listen(page);
  await openBench(page, "TL-020");
  await page.keyboard.press("c");
  await settled(page);
  const bar = page.getByRole("group", { name: "Corners" });
  for (const name of ["Upper left", "Upper right", "Lower left", "Lower right", "Centre"])
    await expect(corner(page, name)).toBeVisible();
  await bar.getByRole("button", { name: "2:1" }).click();
  const place = async (name: string) => {
    const [, x, y] = /translate\((-?[\d.]+)px, (-?[\d.]+)px\)/.exec(
      await corner(page, name).evaluate((node) => node.style.transform),
    )!;
    return [Number(x), Number(y)] as const;
  };
  const before = await Promise.all(["Upper left", "Lower right", "Centre"].map(place));
  const box = (await corner(page, "Upper left").locator("xpath=../../..").boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 30, box.y + box.height / 2 - 20, { steps: 4 });
  await page.mouse.up();
  const after = await Promise.all(["Upper left", "Lower right", "Centre"].map(place));
  const moved = after.map(([x, y], i) => [x - before[i]![0], y - before[i]![1]].map(Math.round));
  expect(moved).toEqual([
    [-30, -20],
    [30, 20],
    [0, 0],
  ]);
  await bar.getByRole("button", { name: "Into the corners" }).click();
  expect((await place("Upper left"))[0]).toBeCloseTo(before[0]![0], 0);

  // Compared in each pane by the way that was last used, and held.
  await page.getByLabel("Compare with").selectOption({ label: "The footage" });
  await page.keyboard.press("e");
  await expect(corner(page, "reference Lower left")).toBeVisible();
  await page.keyboard.press("e");
  await expect(corner(page, "reference Lower left")).toHaveCount(0);
  // Inspected in each: an element's contribution.
  await piece(page, "Diffusion").click();
  const plain = await corner(page, "Centre").evaluate((node: HTMLCanvasElement) => node.toDataURL());
  await page.getByLabel("Inspect").selectOption({ label: "Contribution × 16" });
  await settled(page);
  expect(await corner(page, "Centre").evaluate((node: HTMLCanvasElement) => node.toDataURL())).not.toBe(plain);
  await page.getByRole("button", { name: "Close the corners" }).click();
  await settled(page);
  await expect(picture(page)).toBeVisible();
  expect(said).toEqual([]);
});

test("at 4:1 only the rows in sight are made at full size, and they are the whole picture's", async ({ page }) => {
  const name = `wide-${Date.now() % 1e6}`;
  const [width, height] = [1400, 900];
  const codes = Buffer.from(
    Array.from({ length: width * height * 3 }, (_, i) => (i * 31 + ((i / 4200) | 0) * 7) % 251),
  );
  const png = await sharp(codes, { raw: { width, height, channels: 3 } })
    .blur(2)
    .png()
    .toBuffer();
  const path = test.info().outputPath(`${name}.png`);
  await sharp(png).toFile(path);
  await takeIn(page, [path]);
  const shots = (await (await page.request.get("/api/shots")).json()) as { id: string; name: string }[];
  const { id } = shots.find((shot) => shot.name.startsWith(name))!;
  await openBench(page, id);
  await add(page, "Diffusion");
  await add(page, "Distortion");
  await page.keyboard.press("Escape");
  await choose(page, "Lens", "Orrin Vale 25");
  await settled(page);
  const whole = await picture(page).evaluate((node: HTMLCanvasElement) => [node.width, node.height]);
  expect(whole).toEqual([width, height]);
  /** A patch of the middle of the frame, px of the full frame. */
  const patch = () =>
    picture(page).evaluate((node: HTMLCanvasElement, full) => {
      // What is made begins with the row that its place on the screen says.
      const [, top] = /translate\(-?[\d.]+px, (-?[\d.]+)px\) scale\(([\d.]+)/.exec(node.style.transform)!.map(Number);
      const scale = Number(/, ([\d.]+)\)$/.exec(node.style.transform)![1]);
      const room = node.parentElement!.getBoundingClientRect();
      const first = Math.round(full / 2 - (room.height / 2 - top!) / scale);
      const { data } = node.getContext("2d")!.getImageData(680, 430 - first, 40, 40);
      return [...data];
    }, height);
  const before = await patch();
  await page.getByRole("button", { name: "4:1" }).click();
  await settled(page);
  // The whole is there already, and need not be made again.
  expect(await patch()).toEqual(before);
  await piece(page, "Diffusion").click();
  await type(page, "Strength", 2.5);
  await settled(page);
  await expect.poll(() => picture(page).evaluate((node: HTMLCanvasElement) => node.height)).toBeLessThan(height / 2);
  const part = await patch();
  expect(part).not.toEqual(before);
  await page.getByRole("button", { name: "Fit" }).click();
  await settled(page);
  await expect.poll(() => picture(page).evaluate((node: HTMLCanvasElement) => node.height)).toBe(height);
  expect(await patch()).toEqual(part);
  await undoAll(page);
});

test("cautions of the whole look are counted at the head of the panel, and each leads to what it speaks of", async ({
  page,
}) => {
  await openBench(page, "TL-040");
  await add(page, "Trim");
  await type(page, "Exposure", 6);
  const head = page.getByRole("button", { name: /^\d+ cautions?$/ });
  await expect(head).toBeVisible();
  await head.click();
  const list = page.getByRole("list", { name: "Cautions" });
  const clipped = list.getByRole("button", { name: /of the picture is newly clipped/ });
  await expect(clipped).toBeVisible({ timeout: 15_000 });
  const plain = await hash(page);
  await clipped.click();
  await expect(page.getByText("Newly clipped in amber, newly crushed in blue")).toBeVisible();
  await expect.poll(() => hash(page)).not.toBe(plain);
  // Amber there is, in the marked picture.
  const amber = await picture(page).evaluate((node: HTMLCanvasElement) => {
    const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
    let count = 0;
    for (let i = 0; i < data.length; i += 4) if (data[i] === 255 && data[i + 1] === 170 && data[i + 2] === 60) count++;
    return count;
  });
  expect(amber).toBeGreaterThan(20);
  // Taken back, nothing is clipped any more; another caution leads to its element.
  await page.getByLabel("Inspect").selectOption({ label: "Picture" });
  await list.getByRole("button", { name: /^Distortion: Framing changed/ }).click();
  await expect(page.getByRole("heading", { level: 2, name: "Distortion", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "What Distortion is" }).click();
  await expect(page.getByRole("region", { name: "What it is" })).toContainText("Photogrammetric Engineering");
  await page.keyboard.press("F1");
  await expect(page.getByRole("region", { name: "What it is" })).toHaveCount(0);
  await undoAll(page);
  await expect(list.getByText(/newly clipped/)).toHaveCount(0, { timeout: 15_000 });
});

test("the handbook has twenty-four pages, each with a picture that is there", async ({ page }) => {
  const said = listen(page);
  await page.goto("/cabinet");
  await page.getByRole("link", { name: "Handbook" }).click();
  const pages = page.getByRole("navigation", { name: "Pages" }).getByRole("link");
  await expect(pages).toHaveCount(25);
  for (let i = 1; i <= 24; i++) {
    await pages.nth(i).click();
    const title = (await pages.nth(i).textContent())!.replace(/^\d+/, "");
    await expect(page.getByRole("heading", { level: 1, name: title })).toBeVisible();
    const shown = page.getByRole("article").getByRole("img");
    await expect(shown).toHaveCount(1);
    await expect.poll(() => shown.evaluate((node: HTMLImageElement) => node.complete && node.naturalWidth)).toBe(960);
  }
  expect(said).toEqual([]);
});
