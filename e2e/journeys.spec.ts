import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { test } from "./restored-test";
import { listen, openBench, picture, piece, pixels, settled, takeIn } from "./bench-page";

/** Small frames of one name, with the numbers given. */
async function sequence(name: string, numbers: number[]): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "halo-journey-"));
  const files = numbers.map((number) => join(folder, `${name}.${String(number).padStart(4, "0")}.png`));
  const grey = { width: 160, height: 90, channels: 3 as const, background: { r: 90, g: 120, b: 160 } };
  for (const file of files) await sharp({ create: grey }).png().toFile(file);
  return files;
}

interface Listed {
  id: string;
  name: string;
  footageId: string;
}
async function shotNamed(page: Page, name: string): Promise<Listed> {
  const shots = (await (await page.request.get("/api/shots")).json()) as Listed[];
  return shots.find((shot) => shot.name === name)!;
}

const slider = (page: Page) => page.getByRole("slider", { name: "Frame" });
const frameOf = async (page: Page) => Number((await slider(page).getAttribute("aria-valuetext"))!.replace(/\D/g, ""));
const saved = (page: Page) =>
  expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
/** Nothing has the focus, so that keys are the Bench's. */
const leaveFields = (page: Page) => page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
const boxOf = async (page: Page) => (await picture(page).boundingBox())!;

test("the picture is zoomed, panned by dragging, and fitted again", async ({ page }) => {
  await openBench(page);
  const fitted = await boxOf(page);
  await page.keyboard.press("2");
  await expect.poll(async () => (await boxOf(page)).width).toBeGreaterThan(fitted.width * 1.3);
  const before = await boxOf(page);
  const area = (await page.getByRole("region", { name: "Picture" }).boundingBox())!;
  const [x, y] = [area.x + area.width / 2, area.y + area.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 60, y + 25, { steps: 4 });
  await page.mouse.up();
  const after = await boxOf(page);
  expect([after.x - before.x, after.y - before.y]).toEqual([-60, 25]);
  await page.keyboard.press("f");
  await expect.poll(() => boxOf(page)).toEqual(fitted);
});

test("the wipe is dragged across the picture, and held keys show it without the path for as long as they are down", async ({
  page,
}) => {
  await openBench(page);
  const other = page.locator("canvas[data-picture=reference]");
  await page.keyboard.press("e");
  await expect(other).toBeVisible();
  const edge = () =>
    other.evaluate((node) => getComputedStyle(node.parentElement!).clipPath + getComputedStyle(node).clipPath);
  const before = await edge();
  const box = await boxOf(page);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 4, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  expect(await edge()).not.toBe(before);
  await page.keyboard.press("e");
  await expect(other).toBeHidden();
  await page.keyboard.down("Shift");
  await page.keyboard.down("W");
  await expect(page.getByRole("region", { name: "Picture" }).getByText("Without the path")).toBeVisible();
  await page.keyboard.up("W");
  await page.keyboard.up("Shift");
  await expect(page.getByRole("region", { name: "Picture" }).getByText("Without the path")).toBeHidden();
});

test("overall strength scales the whole look: 0 is the footage, and what is kept out stays", async ({ page }) => {
  const said = listen(page);
  await openBench(page);
  const measured = await pixels(picture(page));
  const overall = page.getByRole("textbox", { name: /^Overall strength/ });
  await overall.fill("0");
  await overall.press("Enter");
  await settled(page);
  const none = await pixels(picture(page));
  expect(none.hash).not.toBe(measured.hash);
  // The path's own comparison is the footage as it came in.
  await leaveFields(page);
  await page.keyboard.down("Shift");
  await page.keyboard.down("W");
  const footage = page.locator("canvas[data-picture=reference]");
  await expect.poll(async () => (await pixels(footage)).hash).toBe(none.hash);
  await page.keyboard.up("W");
  await page.keyboard.up("Shift");
  await piece(page, "Illumination").click();
  await page.getByRole("checkbox", { name: /^Kept out/ }).check();
  await settled(page);
  expect((await pixels(picture(page))).hash).not.toBe(none.hash);
  for (let i = 0; i < 2; i++) await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
  expect((await pixels(picture(page))).hash).toBe(measured.hash);
  await saved(page);
  expect(said).toEqual([]);
});

test("another lens and another stop change the picture; a drag of the focal length is one step back", async ({
  page,
}) => {
  await openBench(page);
  const first = (await pixels(picture(page))).hash;
  await page.getByRole("combobox", { name: "Lens", exact: true }).selectOption({ label: "Orrin Vale 85" });
  await settled(page);
  const lens = (await pixels(picture(page))).hash;
  await page.getByRole("button", { name: "T4", exact: true }).click();
  await settled(page);
  const stop = (await pixels(picture(page))).hash;
  expect(new Set([first, lens, stop]).size).toBe(3);
  const track = page.getByRole("slider", { name: "Focal length" });
  const box = (await track.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height / 2);
  await page.mouse.down();
  for (const share of [0.5, 0.4, 0.3]) await page.mouse.move(box.x + box.width * share, box.y + box.height / 2);
  await page.mouse.up();
  await settled(page);
  expect((await pixels(picture(page))).hash).not.toBe(stop);
  const undo = page.getByRole("button", { name: "Undo" });
  for (const wanted of [stop, lens, first]) {
    await undo.click();
    await settled(page);
    expect((await pixels(picture(page))).hash).toBe(wanted);
  }
  await expect(undo).toBeDisabled();
  await saved(page);
});

test("in and out bound what is played; J, K and L play back, stop and play on, faster when asked again", async ({
  page,
}) => {
  await openBench(page, "TL-050");
  await slider(page).fill("2");
  await leaveFields(page);
  const first = await frameOf(page);
  await page.keyboard.press("i");
  for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowRight");
  await page.keyboard.press("o");
  const bounds = page.getByRole("button", { name: `In ${first}, out ${first + 3}: play the whole shot` });
  await expect(bounds).toBeVisible();
  const seenFor = (ms: number) =>
    page.evaluate(async (time) => {
      const strip = document.querySelector<HTMLInputElement>("input[aria-label=Frame]")!;
      const seen = new Set<number>();
      const end = performance.now() + time;
      while (performance.now() < end) {
        await new Promise(requestAnimationFrame);
        seen.add(Number(strip.getAttribute("aria-valuetext")!.replace(/\D/g, "")));
      }
      return [...seen].sort((a, b) => a - b);
    }, ms);
  await page.keyboard.press("l");
  await expect.poll(() => seenFor(2000), { timeout: 60_000 }).toEqual([0, 1, 2, 3].map((by) => first + by));
  await page.keyboard.press("j");
  await page.keyboard.press("j");
  await expect(page.getByRole("status", { name: "Rate of playing" })).toContainText("−2×");
  await page.keyboard.press("k");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  const stopped = await frameOf(page);
  await page.waitForTimeout(300);
  expect(await frameOf(page)).toBe(stopped);
  await bounds.click();
  await expect(bounds).toBeHidden();
});

test("commands are listed with their keys, and the keys do what is listed", async ({ page }) => {
  await openBench(page);
  await page.keyboard.press("?");
  const list = page.getByRole("dialog", { name: "Keyboard" });
  for (const name of ["Play and stop", "Undo", "Glass drawer", "Select the element after", "Play from here on (in)"])
    await expect(list.getByText(name, { exact: true })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("]");
  await expect(page.getByRole("heading", { name: "Diffusion", exact: true })).toBeVisible();
  await page.keyboard.press("x");
  await expect(page.getByRole("button", { name: "Off", exact: true })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: "On", exact: true })).toBeVisible();
  await page.keyboard.press("v");
  await expect(page.getByRole("complementary", { name: "Versions" })).toBeVisible();
  await page.keyboard.press("Escape");
  await saved(page);
});

test("a kept version is rendered, as it was kept", async ({ page }) => {
  await openBench(page, "TL-040");
  await page.getByRole("button", { name: /^Versions/ }).click();
  await page.getByRole("textbox", { name: "Name of the version" }).fill("Half as strong");
  await page.getByRole("button", { name: "Keep this look" }).click();
  await expect(page.getByText("Kept as Half as strong")).toBeVisible();
  await page.keyboard.press("Escape");
  await page.goto("/renders");
  await page.getByLabel("Shot").selectOption("TL-040");
  await page.getByLabel("Version").selectOption({ label: "2. Half as strong" });
  await page.getByLabel("From frame").fill("1");
  await page.getByLabel("To frame").fill("2");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "Half as strong" }).first();
  await expect(row).toContainText("Done", { timeout: 60_000 });
  await expect(row).toContainText("2 of 2 frames");
});

test("squeezed footage is shown as wide as it was seen, and as it is where it was undone already", async ({ page }) => {
  const name = `squeezed-${Date.now() % 1e6}`;
  await takeIn(page, await sequence(name, [1, 2]));
  const { id } = await shotNamed(page, name);
  const shape = async () => {
    await openBench(page, id);
    const { width, height } = await boxOf(page);
    return width / height;
  };
  expect(await shape()).toBeCloseTo(16 / 9, 2);
  await page.goto("/footage");
  await page.getByRole("button", { name: `Select ${name}` }).click();
  await page.getByLabel("Squeeze", { exact: true }).fill("2");
  await page.getByLabel("Squeeze", { exact: true }).press("Enter");
  await expect.poll(async () => (await (await page.request.get(`/api/shots/${id}`)).json()).squeeze).toBe(2);
  expect(await shape()).toBeCloseTo(32 / 9, 2);
  await page.goto("/footage");
  await page.getByRole("button", { name: `Select ${name}` }).click();
  await page.getByRole("checkbox", { name: "already undone in the frames" }).click();
  await expect.poll(async () => (await (await page.request.get(`/api/shots/${id}`)).json()).desqueezed).toBe(true);
  expect(await shape()).toBeCloseTo(16 / 9, 2);
});

test("a render whose frame went from the disk says which and why, and its other frames are there", async ({ page }) => {
  const name = `gone-${Date.now() % 1e6}`;
  await takeIn(page, await sequence(name, [1, 2, 3]));
  const { id, footageId } = await shotNamed(page, name);
  rmSync(join(process.env.HALO_TEST_DATA!, "footage", footageId, `${name}.0002.png`));
  await page.goto("/renders");
  await page.getByLabel("Shot").selectOption(id);
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: name }).first();
  await expect(row).toContainText("Failed", { timeout: 60_000 });
  await expect(row).toContainText("Frame 2: ");
  const folder = (await row.getByText(/^renders\//).textContent())!;
  const files = readdirSync(join(process.env.HALO_TEST_DATA!, folder)).filter((file) => !file.startsWith("."));
  const frames = files.filter((file) => !file.endsWith(".recipe.json"));
  expect(frames.map((file) => file.split(".")[1]).sort()).toEqual(["0001", "0003"]);
  expect(files).toHaveLength(frames.length + 1);
});
