import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import sharp from "sharp";
import { listen, picture, pixels, settled } from "./bench-page";

async function madeUpSequence(): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), "halo-drop-"));
  for (let frame = 1; frame <= 3; frame++) {
    const data = Buffer.from(Array.from({ length: 96 * 54 * 3 }, (_, i) => (i * 7 + frame * 31 + Math.floor(i / 288) * 5) % 256));
    await sharp(data, { raw: { width: 96, height: 54, channels: 3 } }).png().toFile(join(folder, `kiosk.000${frame}.png`));
  }
  writeFileSync(join(folder, "kiosk.0004.png"), readFileSync(join(folder, "kiosk.0001.png")).subarray(0, 300));
  writeFileSync(join(folder, "remarks.txt"), "not a picture");
  return folder;
}

test("a PNG sequence is taken in as a shot, bad files refused by name; it is rendered, and read back as it was", async ({ page }) => {
  const said = listen(page);
  const folder = await madeUpSequence();
  await page.goto("/footage");
  await page.getByLabel("Files to take in").setInputFiles(readdirSync(folder).map((name) => join(folder, name)));
  await expect(page.getByText("kiosk.####.png: 4 frames, 1 to 4")).toBeVisible();
  await page.getByRole("button", { name: "Take in", exact: true }).click();
  const refused = page.getByRole("region", { name: "What was found" }).getByRole("alert");
  await expect(refused).toContainText("kiosk.0004.png: cannot be read");
  await expect(refused).toContainText("remarks.txt: is of a kind that is not read");
  await expect(page.getByRole("listitem").filter({ hasText: "kiosk" }).filter({ hasText: "3 frames" })).toBeVisible();

  await page.getByRole("link", { name: "Open kiosk on the Bench" }).click();
  await settled(page);
  const source = await sharp(join(folder, "kiosk.0002.png")).ensureAlpha().raw().toBuffer();
  const shown = await picture(page).evaluate((node: HTMLCanvasElement) => [...node.getContext("2d")!.getImageData(0, 0, node.width, node.height).data]);
  expect(shown).toEqual([...source]);

  await page.getByRole("link", { name: "Renders" }).click();
  await page.getByLabel("Format").selectOption("PNG 8 bits");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "PNG 8 bits" }).first();
  await expect(row).toContainText("Done", { timeout: 90_000 });
  await expect(row).toContainText("3 of 3 frames");
  const out = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
  for (const name of readdirSync(out)) {
    const [made, was] = await Promise.all([join(out, name), join(folder, name.replace(/^.*?\./, "kiosk."))].map((path) => sharp(path).removeAlpha().raw().toBuffer()));
    expect(made!.equals(was!)).toBe(true);
  }
  // The browser says of itself that the refused uploads failed; that is all it may say.
  expect(said.filter((text) => !/422/.test(text))).toEqual([]);
});

test("the browser and the command line make the same pixels of the same look", async ({ page }) => {
  await page.goto("/bench/TL-010?frame=5");
  await settled(page);
  const { look } = (await (await page.request.get("/api/shots/TL-010")).json()) as { look: unknown };
  const folder = mkdtempSync(join(tmpdir(), "halo-same-"));
  writeFileSync(join(folder, "look.json"), JSON.stringify(look));
  const input = join(process.env.HALO_TEST_DATA!, "footage/tarn-line/TL-010.%04d.exr");
  execFileSync("bin/halo", ["render", "--look", join(folder, "look.json"), "--in", input, "--out", join(folder, "out.%04d.png"), "--depth", "8", "--frames", "5-5", "--threads", "2"], { stdio: "pipe" });
  const made = await sharp(join(folder, "out.0005.png")).ensureAlpha().raw().toBuffer();
  const digest = [...new Uint8Array(await crypto.subtle.digest("SHA-256", new Uint8Array(made)))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  expect((await pixels(picture(page))).hash).toBe(digest);
});

test("a render is cancelled, and writes from elsewhere are refused", async ({ page, request }) => {
  await page.goto("/renders");
  await page.getByLabel("Shot").selectOption("TL-030");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "TL-030" }).first();
  await row.getByRole("button", { name: "Cancel" }).click();
  await expect(row).toContainText("Cancelled");
  const foreign = await request.post("/api/renders/1/cancel", { headers: { origin: "http://elsewhere.example" } });
  expect(foreign.status()).toBe(403);
});
