import { readFileSync } from "node:fs";
import { expect, type Page } from "@playwright/test";
import { type Profile, profileSchema } from "../src/core/profile/profiles";

/** What is done in the Chart room and the Cabinet, by its name. */

/** A minute: what is measured one after another on a machine that does other things beside. */
const MEASURED_WITHIN = 180_000;

/** Waits until everything that was dropped is measured. */
export async function measured(page: Page, count: number): Promise<void> {
  const list = page.getByRole("list", { name: "Measurements" });
  await expect(list.getByRole("listitem")).toHaveCount(count, { timeout: 60_000 });
  await expect(list.getByText(/^(waits|measuring|reading)/)).toHaveCount(0, { timeout: MEASURED_WITHIN });
}

export async function setSensor(page: Page, width: number, height: number): Promise<void> {
  for (const [label, value] of [
    ["Sensor width", width],
    ["Sensor height", height],
  ] as const) {
    await page.getByLabel(label).fill(String(value));
    await page.getByLabel(label).press("Enter");
  }
}

/** Goes to a view by its name in the head of the page. */
export const goToView = (page: Page, name: string) =>
  page.getByRole("navigation", { name: "Views" }).getByRole("link", { name }).click();

/** The profile that is shown in the Cabinet, as it exports it. */
export async function exported(page: Page): Promise<Profile> {
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Export", exact: true }).click();
  await page.getByRole("button", { name: "Save Profile (JSON)" }).click();
  return profileSchema.parse(JSON.parse(readFileSync(await (await download).path(), "utf8")));
}

/** Takes one's own profile out again. */
export async function removeShown(page: Page, name: string): Promise<void> {
  await page.getByRole("button", { name: `Remove ${name}` }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByRole("heading", { level: 1, name })).toHaveCount(0);
}
