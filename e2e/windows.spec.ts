import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { test } from "./restored-test";
import { openBench, picture, piece, pixels, settled, takeIn } from "./bench-page";

const saved = (page: Page) =>
  expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
const strength = (page: Page) => page.getByRole("slider", { name: "Strength", exact: true });
const looks = async (page: Page, shot: string) =>
  (await (await page.request.get(`/api/shots/${shot}/look`)).json()) as {
    look: { elements: { strength: number }[] };
    revision: number;
  };

/** A shot of a test's own, so that others' looks stay as they are. */
async function ownShot(page: Page, name: string): Promise<string> {
  const before = (await (await page.request.get("/api/shots")).json()) as { id: string }[];
  const folder = mkdtempSync(join(tmpdir(), "halo-windows-"));
  // Pixels of this run's own, or its footage would be an earlier run's.
  const own = Date.now();
  const data = Buffer.from(Array.from({ length: 96 * 54 * 3 }, (_, i) => ((i + own) * 2654435761) >>> 24));
  await sharp(data, { raw: { width: 96, height: 54, channels: 3 } })
    .png()
    .toFile(join(folder, `${name}.png`));
  await takeIn(
    page,
    readdirSync(folder).map((file) => join(folder, file)),
  );
  const shots = (await (await page.request.get("/api/shots")).json()) as { id: string; name: string }[];
  return shots.find((shot) => shot.name === name && before.every(({ id }) => id !== shot.id))!.id;
}

async function withTrim(page: Page, shot: string): Promise<void> {
  await openBench(page, shot);
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("button", { name: "Vignette", exact: true }).click();
  await settled(page);
  await saved(page);
}

test("two windows on one shot: an idle one follows; where both changed, one is taken and the other is a version", async ({
  page,
  context,
}) => {
  const shot = await ownShot(page, "windows");
  await withTrim(page, shot);
  const other = await context.newPage();
  await openBench(other, shot);
  await piece(other, "Vignette").click();

  // One changes, the other has nothing of its own: it follows, and says so.
  await strength(page).press("ArrowRight");
  await saved(page);
  await expect(other.getByText("changed in another window; it is shown as it is now")).toBeVisible();
  await expect(strength(other)).toHaveValue(await strength(page).inputValue());
  await settled(other);
  await settled(page);
  expect((await pixels(picture(other))).hash).toBe((await pixels(picture(page))).hash);

  // Both change before they hear of each other.
  let letGo = () => {};
  const held = new Promise<void>((resolve) => (letGo = resolve));
  await other.route("**/api/shots/**/look", async (route) => {
    await held;
    await route.continue();
  });
  for (let i = 0; i < 3; i++) await strength(other).press("ArrowRight");
  await other.waitForTimeout(500);
  for (let i = 0; i < 6; i++) await strength(page).press("ArrowLeft");
  await saved(page);
  letGo();
  const bar = other.getByRole("alert").filter({ hasText: "changed in another window while you changed it here" });
  await expect(bar).toBeVisible();
  await expect(other.getByRole("status", { name: "State of saving" })).toHaveText("Changed in another window");
  const [mine, theirs] = [await strength(other).inputValue(), await strength(page).inputValue()];
  expect(mine).not.toBe(theirs);
  expect((await looks(page, shot)).look.elements[0]!.strength).toBeCloseTo(Number(theirs), 5);
  await other.unrouteAll({ behavior: "wait" });
  await other.getByRole("button", { name: "Go on with mine; keep the other as a version" }).click();
  await saved(other);
  await expect(bar).toHaveCount(0);
  expect((await looks(page, shot)).look.elements[0]!.strength).toBeCloseTo(Number(mine), 5);
  await expect(other.getByRole("button", { name: "Versions (1)" })).toBeVisible();
  await other.getByRole("button", { name: "Versions (1)" }).click();
  await expect(other.getByRole("textbox", { name: "Name of version 1" })).toHaveValue("From another window");
  await other.getByRole("button", { name: "Remove version 1" }).click();
  await other.getByRole("button", { name: "Remove it" }).click();
  await expect(other.getByRole("button", { name: "Versions (0)" })).toBeVisible();
});

test("a change of the shot that could not be saved is said, and saved when the server is there again", async ({
  page,
}) => {
  const shot = await ownShot(page, "shot-unsaved");
  await openBench(page, shot);
  await page.route("**/api/shots", (route) =>
    route.request().method() === "PATCH" ? route.abort() : route.continue(),
  );
  await page.getByRole("combobox", { name: "Depth", exact: true }).selectOption({ label: "Lamp room" });
  const state = page.getByRole("status", { name: "State of saving" });
  await expect(state).toHaveText("Not saved; trying again");
  await page.unrouteAll({ behavior: "wait" });
  await saved(page);
  const depth = async () => ((await (await page.request.get(`/api/shots/${shot}`)).json()) as { depth: unknown }).depth;
  expect(await depth()).toMatchObject({ footage: "TL-050" });
  await page.getByRole("button", { name: "Undo" }).click();
  await expect.poll(depth).toBeNull();
  await saved(page);
});

test("a look that could not be saved stays in the browser, and is saved when the server takes it again", async ({
  page,
  context,
}) => {
  const shot = await ownShot(page, "unsaved");
  await withTrim(page, shot);
  const before = await looks(page, shot);
  const full = {
    status: 507,
    contentType: "application/json",
    body: '{"error":"The disk is full; nothing was written. Make room, and it goes on"}',
  };
  await page.route("**/api/shots/**/look", (route) => route.fulfill(full));
  for (let i = 0; i < 4; i++) await strength(page).press("ArrowRight");
  await expect(page.getByRole("status", { name: "State of saving" })).toContainText("Not saved: The disk is full");
  const wanted = await strength(page).inputValue();
  // Leaving, the page tries once more, and cannot: what is sent then no route catches.
  await page.evaluate(() => (window.fetch = () => Promise.reject(new TypeError("Failed to fetch"))));
  await page.goto("about:blank");
  await page.waitForTimeout(500);
  expect((await looks(await context.newPage(), shot)).revision).toBe(before.revision);
  await page.unrouteAll({ behavior: "wait" });
  const again = await context.newPage();
  await openBench(again, shot);
  await expect(again.getByText("What could not be saved before is here again")).toBeVisible();
  await saved(again);
  const now = await looks(again, shot);
  expect(now.look.elements[0]!.strength).toBeCloseTo(Number(wanted), 5);
  expect(now.revision).toBe(before.revision + 1);
});

test("a shot is removed with its footage, after it was said what goes; a render with its files", async ({ page }) => {
  const shot = await ownShot(page, "passing");
  await page.goto("/renders");
  await page.getByRole("combobox", { name: "Shot" }).selectOption(shot);
  await page.getByLabel("Format").selectOption("PNG 8 bits");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "passing" });
  await expect(row).toContainText("Done", { timeout: 60_000 });
  const folder = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
  expect(readdirSync(folder)).toContain("passing.0001.png");

  await page.goto("/footage");
  await page.getByRole("button", { name: "Select passing" }).last().click();
  await page.getByRole("button", { name: "Remove this shot …" }).click();
  await expect(page.getByText("With passing go its look, its footage (1 frame). What stays: 1 render.")).toBeVisible();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByRole("complementary", { name: "Selected shots" })).toHaveCount(0);
  expect((await page.request.get(`/api/shots/${shot}`)).status()).toBe(404);
  expect(readdirSync(folder)).toContain("passing.0001.png");

  await page.goto("/renders");
  await row.getByRole("button", { name: /^Remove render/ }).click();
  await expect(row.getByText(/its one frame in renders/)).toBeVisible();
  await row.getByRole("button", { name: "Remove it" }).click();
  await expect(row).toHaveCount(0);
  expect(() => readdirSync(folder)).toThrow(/ENOENT/);
});
