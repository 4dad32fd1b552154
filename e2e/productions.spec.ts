import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { listen, settled } from "./bench-page";
import { test } from "./restored-test";
import { serious } from "./serious";

const SIZE = { width: 64, height: 36 };

/** Three frames that nobody else has. */
async function frames(name: string): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "halo-production-"));
  const shade = Date.now() % 97;
  return Promise.all(
    [1, 2, 3].map(async (number) => {
      const path = join(folder, `${name}.000${number}.png`);
      const bytes = Buffer.from(Array.from({ length: 64 * 36 * 3 }, (_, i) => (i * 3 + shade + number * 40) % 256));
      await sharp(bytes, { raw: { ...SIZE, channels: 3 } })
        .png()
        .toFile(path);
      return path;
    }),
  );
}

const shots = (page: Page) => page.getByRole("list", { name: "Shots" });

async function takeIn(page: Page, files: string[]): Promise<void> {
  await page.getByLabel("Files to take in").setInputFiles(files);
  await page.getByRole("button", { name: "Take in one shot" }).click();
  await expect(page.getByText("One shot taken in").last()).toBeVisible();
}

test("a production is begun, worked in, handed over, removed, and brought in again with its footage", async ({
  page,
}) => {
  const said = listen(page);
  const files = await frames("tram");
  await page.goto("/footage");
  const panel = page.getByRole("dialog", { name: "Productions" });
  const open = () => page.getByTitle("Productions").click();
  const close = () => page.keyboard.press("Escape");
  await open();
  await panel.getByLabel("Name of a new production").fill("Old tram");
  await panel.getByRole("button", { name: "Begin" }).click();
  await expect(panel.getByRole("button", { name: "Old tram 0 shots, 0 renders" })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await panel.getByLabel("Name of the production", { exact: true }).fill("Old tram, spring");
  await panel.getByRole("button", { name: "Rename" }).click();
  await expect(panel.getByRole("button", { name: /^Old tram, spring/ })).toHaveAttribute("aria-pressed", "true");
  expect(await serious(page)).toEqual([]);
  await close();

  // It has shots of its own; the others' are not shown, and are there.
  await expect(page.getByRole("heading", { name: "Begin with footage" })).toBeVisible();
  await takeIn(page, files);
  await expect(shots(page).getByRole("listitem")).toHaveCount(1);
  await page.getByRole("link", { name: "Bench", exact: true }).click();
  await settled(page);
  await expect(page).toHaveURL(/\/bench\/shot-/);
  await open();
  await panel.getByRole("button", { name: /^Tarn Line/ }).click();
  await expect(page).toHaveURL(/\/bench\/TL-010/);
  await close();
  await page.getByRole("link", { name: "Footage", exact: true }).click();
  await expect(shots(page).getByText("TL-010 Upper station")).toBeVisible();
  await expect(shots(page).getByText("tram", { exact: true })).toHaveCount(0);

  // A shot goes into the other production, and back.
  await open();
  await panel.getByRole("button", { name: /^Old tram, spring/ }).click();
  await close();
  const field = page.getByRole("complementary", { name: "Selected shots" }).getByLabel("Production");
  await page.getByRole("button", { name: "Select tram", exact: true }).click();
  await field.selectOption({ label: "Tarn Line" });
  await expect(shots(page).getByRole("listitem")).toHaveCount(0);
  await open();
  await panel.getByRole("button", { name: /^Tarn Line/ }).click();
  await close();
  // It is selected still.
  await field.selectOption({ label: "Old tram, spring" });
  await expect(shots(page).getByText("tram", { exact: true })).toHaveCount(0);

  // Put away it is not listed, until it is taken up.
  await open();
  await panel.getByRole("button", { name: /^Old tram, spring/ }).click();
  await expect(shots(page).getByRole("listitem")).toHaveCount(1);
  await panel.getByRole("button", { name: "Put away" }).click();
  await expect(shots(page).getByText("TL-010 Upper station")).toBeVisible();
  await panel.getByText("Put away (1)").click();
  await panel.getByRole("button", { name: "Take up Old tram, spring" }).click();
  await panel.getByRole("button", { name: /^Old tram, spring/ }).click();

  // Handed over, removed: its frames are nowhere here.
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    panel.getByRole("link", { name: "Hand over as a zip" }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("Old tram- spring.zip");
  const zip = join(mkdtempSync(join(tmpdir(), "halo-zip-")), "tram.zip");
  await download.saveAs(zip);
  await panel.getByRole("button", { name: "Remove the production Old tram, spring" }).click();
  await expect(panel.getByRole("alert")).toContainText("Remove Old tram, spring? 1 shot with looks");
  await panel.getByRole("button", { name: "Remove it" }).click();
  await expect(panel.getByRole("button", { name: /^Old tram/ })).toHaveCount(0);
  await expect(shots(page).getByText("TL-010 Upper station")).toBeVisible();

  // Brought in, it says what is not here; its files are found to be its shot's.
  await panel.getByLabel("Production to bring in").setInputFiles(zip);
  await expect(panel.getByRole("status")).toContainText("Old tram, spring is here, with 1 shot.");
  await expect(panel.getByRole("status")).toContainText("Footage that is not here: tram.");
  await close();
  await expect(shots(page).getByRole("listitem")).toHaveCount(1);
  await takeIn(page, files);
  await expect(shots(page).getByRole("listitem")).toHaveCount(1);
  await page.getByRole("link", { name: "Open tram on the Bench" }).click();
  await settled(page);

  await open();
  await panel.getByRole("button", { name: "Remove the production Old tram, spring" }).click();
  await panel.getByRole("button", { name: "Remove it" }).click();
  await expect(panel.getByRole("button", { name: /^Old tram/ })).toHaveCount(0);
  // Its frames are asked for in vain while they are not here.
  expect(said.filter((text) => !/404/.test(text))).toEqual([]);
});

test("what is no production is refused by name, and nothing changes", async ({ page }) => {
  await page.goto("/footage");
  await page.getByTitle("Productions").click();
  const panel = page.getByRole("dialog", { name: "Productions" });
  const before = await panel.getByRole("list", { name: "Productions" }).textContent();
  const bytes = Buffer.from("no zip at all, but long enough to be looked at");
  await panel
    .getByLabel("Production to bring in")
    .setInputFiles({ name: "wrong.zip", mimeType: "application/zip", buffer: bytes });
  await expect(page.getByText(/^wrong\.zip: (holds no production|is no zip)/)).toBeVisible();
  expect(await panel.getByRole("list", { name: "Productions" }).textContent()).toBe(before);
});
