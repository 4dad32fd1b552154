import { type ChildProcess } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import sharp from "sharp";
import { freePort, startServer } from "../scripts/serve.mjs";
import { listen, piece, settled } from "./bench-page";

let server: ChildProcess;
let address: string;

/** A server as `npm start` begins one: a data folder of the user's own, in which there is nothing. */
test.beforeAll(async () => {
  const port = await freePort();
  address = `http://127.0.0.1:${port}`;
  server = startServer(mkdtempSync(join(tmpdir(), "halo-beginning-")), port, {
    stdio: ["ignore", "pipe", "inherit"],
    env: { HALO_DEMO: "no" },
  });
  await new Promise<void>((done) =>
    server.stdout!.on("data", (part: Buffer) => part.includes("is served at") && done()),
  );
});
test.afterAll(() => void server.kill("SIGTERM"));
const FRAMES = 3;

/** Frames of one's own: smooth pictures, for a movie's halved chroma holds nothing else. */
async function frames(): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "halo-own-"));
  return Promise.all(
    Array.from({ length: FRAMES }, async (_, i) => {
      const data = Buffer.from(
        Array.from({ length: 96 * 54 * 3 }, (_, at) => 40 + ((at / 3) % 96) + Math.floor(at / 3 / 96) + 8 * i),
      );
      const path = join(folder, `own.${String(i + 1).padStart(4, "0")}.png`);
      await sharp(data, { raw: { width: 96, height: 54, channels: 3 } })
        .png()
        .toFile(path);
      return path;
    }),
  );
}

test("from an empty data folder to a movie of one's own frames", async ({ page }) => {
  const said = listen(page);
  await page.goto(`${address}/`);
  await expect(page.getByRole("heading", { name: "Begin with footage" })).toBeVisible();
  expect(((await (await page.request.get(`${address}/api/shots`)).json()) as unknown[]).length).toBe(0);
  await page.getByLabel("Files to take in").setInputFiles(await frames());
  await page.getByRole("button", { name: /^Take in (one|\d)/ }).click();
  await expect(page.getByText(/taken in$/).first()).toBeVisible();
  await expect(page.getByRole("heading", { name: "Begin with footage" })).toBeHidden();
  await page.getByRole("link", { name: "Bench", exact: true }).click();
  await settled(page);
  await expect(page.getByText("New production · own")).toBeVisible();
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("button", { name: "Vignette", exact: true }).click();
  await expect(piece(page, "Vignette")).toBeVisible();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await page.getByRole("link", { name: "Renders", exact: true }).click();
  await page.getByLabel("Format").selectOption("PNG 8 bits");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row", { name: /own/ });
  await expect(row).toContainText("Done", { timeout: 60_000 });
  await row.getByLabel(/^Make a movie/).selectOption("WebM, VP9");
  await expect(row.getByRole("link", { name: /\.webm$/ })).toBeVisible({ timeout: 60_000 });
  expect(said).toEqual([]);
});

test("the demo may be opened beside it, and an address of nothing leads back", async ({ page }) => {
  await page.goto(`${address}/nothing/here`);
  await expect(page.getByRole("heading", { name: "There is no such page" })).toBeVisible();
  await page.getByRole("link", { name: "To Footage" }).click();
  await expect(page.getByRole("heading", { name: "Footage", exact: true })).toBeVisible();
  expect((await page.request.post(`${address}/api/demo`, { headers: { origin: address } })).ok()).toBe(true);
  await page.reload();
  await expect(page.getByText("TL-010 Upper station")).toBeVisible();
});
