import { readFileSync } from "node:fs";
import { expect, type Page } from "@playwright/test";
import { demoProfiles } from "../src/demo/glass/profiles";
import { distortionAt, type LensProfile } from "../src/core/profile/lens";
import { exported, removeShown } from "./chart-room";
import { test } from "./restored-test";

const lens = (id: string) => demoProfiles().find((one) => one.id === id) as LensProfile;

async function setNumber(page: Page, label: string, value: number): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(String(value));
  await page.getByLabel(label, { exact: true }).press("Enter");
}

test("a lens between two of a set is computed, says so, and lies between them", async ({ page }) => {
  await page.goto("/cabinet?profile=orrin-vale-35");
  await page.getByRole("button", { name: "Between lenses" }).click();
  await page.getByLabel("The other lens").selectOption({ label: "Orrin Vale 85" });
  await setNumber(page, "Focal length between", 100);
  await page.getByRole("button", { name: "Compute and keep" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "100 mm does not lie between" })).toBeVisible();
  await setNumber(page, "Focal length between", 60);
  await page.getByRole("button", { name: "Compute and keep" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Orrin Vale 60, computed" })).toBeVisible();
  await expect(
    page.getByText(/computed, between Orrin Vale 35 at 35 mm and Orrin Vale 85 at 85 mm/).first(),
  ).toBeVisible();
  const own = (await exported(page)) as LensProfile;
  const k1 = distortionAt(own, 60)!.x20;
  expect(k1).toBeGreaterThan(distortionAt(lens("orrin-vale-35"), 35)!.x20);
  expect(k1).toBeLessThan(distortionAt(lens("orrin-vale-85"), 85)!.x20);
  await removeShown(page, "Orrin Vale 60, computed");
});

test("a lens's distortion goes out as a map and comes in again, once it is said what the map is of", async ({
  page,
}) => {
  await page.goto("/cabinet?profile=orrin-vale-25");
  await page.getByRole("button", { name: "Export", exact: true }).click();
  await page.getByLabel("Form of the file").selectOption({ label: "Distortion map (EXR)" });
  await setNumber(page, "Picture width", 480);
  await setNumber(page, "Picture height", 270);
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save Distortion map (EXR)" }).click();
  const bytes = readFileSync(await (await download).path());
  await page
    .getByLabel("A profile to import")
    .setInputFiles({ name: "bent.exr", mimeType: "image/x-exr", buffer: bytes });
  const asked = page.getByRole("form", { name: "What the file does not say" });
  await expect(asked).toContainText("say what the map’s pictures were shot on and with, mm");
  await asked.getByLabel("Focal length", { exact: true }).fill("25");
  await asked.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "bent" })).toBeVisible();
  const [found, exact] = [
    distortionAt((await exported(page)) as LensProfile, 25)!,
    distortionAt(lens("orrin-vale-25"), 25)!,
  ];
  expect(found.x20).toBeCloseTo(exact.x20, 3);
  expect(found.p1).toBeCloseTo(exact.p1, 4);
  await removeShown(page, "bent");
});

test("a file that is no profile is told with every problem by its place", async ({ page }) => {
  await page.goto("/cabinet");
  const broken = { format: "pale-halo-lens", version: 1, id: "x", name: "", squeeze: 9 };
  await page
    .getByLabel("A profile to import")
    .setInputFiles({ name: "x.json", mimeType: "application/json", buffer: Buffer.from(JSON.stringify(broken)) });
  const alert = page.getByRole("alert").filter({ hasText: "x.json is no profile" });
  await expect(alert.getByText(/^name: is empty/)).toBeVisible();
  await expect(alert.getByText(/^squeeze: /)).toBeVisible();
});

test("tables and frequencies are added to a copy, and the charts beside them show what is typed", async ({ page }) => {
  await page.goto("/cabinet?profile=plainglass-50");
  await page.getByRole("button", { name: "Edit a copy" }).click();
  await page.getByLabel("Kind of table").selectOption({ label: "Contrast" });
  await setNumber(page, "Stop of the table", 11);
  await page.getByRole("button", { name: "Add the table" }).click();
  await expect(page.getByLabel("Table", { exact: true }).locator("option:checked")).toHaveText(
    "Contrast, sagittal, 50 mm, T11",
  );
  await setNumber(page, "Frequency", 50);
  await page.getByRole("button", { name: "Add the frequency" }).click();
  await page.getByLabel("50 lp/mm, row 1").fill("0.75");
  await page.getByRole("button", { name: "Keep the changes" }).click();
  await expect(page.getByText("Kept as revision 2")).toBeVisible();
  const own = (await exported(page)) as LensProfile;
  const table = own.mtf!.find(({ stop }) => stop === 11)!;
  expect(table.frequencies).toEqual([10, 20, 30, 40, 50]);
  expect(table.sagittal[0]).toEqual([1, 1, 1, 1, 0.75]);
  await removeShown(page, own.name);
});

test("a page of a PDF is turned to and read, and a reload has it again", async ({ page, context }) => {
  const printed = await context.newPage();
  const sheet = (ink: string) =>
    `<div style="break-after:page"><svg width="600" height="400"><rect x="50" y="50" width="500" height="300" fill="none" stroke="#bbb"/><line x1="50" y1="80" x2="550" y2="300" stroke="${ink}" stroke-width="3"/></svg><p>Contrast</p></div>`;
  await printed.setContent(sheet("#205080") + sheet("#802020"));
  const buffer = await printed.pdf({ format: "A4" });
  await printed.close();
  await page.goto("/chart-room/printed");
  await page
    .getByLabel("A picture of the page")
    .setInputFiles({ name: "lens.pdf", mimeType: "application/pdf", buffer });
  await expect(page.getByText("lens.pdf, page 1 of 2")).toBeVisible();
  await setNumber(page, "Page of the file", 2);
  await expect(page.getByText("lens.pdf, page 2 of 2")).toBeVisible();
  const picture = page.getByRole("img", { name: "The page", exact: true });
  await expect(picture).toBeVisible();
  await page.getByRole("button", { name: "Add a curve" }).click();
  const box = (await picture.boundingBox())!;
  // The middle of the line, by the page’s size in CSS px; only the first page has the margin above.
  const [width, height] = [793.7, 1122.5];
  const at = { x: box.x + ((300 + 8) * box.width) / width, y: box.y + (190 * box.height) / height };
  await page.mouse.click(at.x, at.y);
  await expect(page.getByRole("list", { name: "Curves" }).getByText(/^followed, /)).toHaveCount(1);
  await page.reload();
  await expect(page.getByText("lens.pdf, page 2 of 2")).toBeVisible();
  await expect(page.getByRole("list", { name: "Curves" }).getByText(/^followed, /)).toHaveCount(1);
  await page.getByRole("button", { name: "Begin anew" }).click();
});
