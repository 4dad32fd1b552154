import { cpSync, existsSync, mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { freePort, startServer } from "../scripts/serve.mjs";
import { openBench, piece, settled } from "./bench-page";

/** A server of this test's own, on a copy of the demo footage that is there already. */
async function ownServer() {
  const data = mkdtempSync(join(tmpdir(), "halo-restart-"));
  mkdirSync(join(data, "footage"));
  writeFileSync(join(data, ".pale-halo"), "");
  const footage = join(process.env.HALO_TEST_DATA!, "footage/tarn-line");
  expect(existsSync(footage)).toBe(true);
  cpSync(footage, join(data, "footage/tarn-line"), { recursive: true });
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const start = async () => {
    const server = startServer(data, port, { stdio: "ignore", env: { HALO_DEMO_SIZE: "640x360" } });
    await expect
      .poll(
        () =>
          fetch(`${address}/api/profiles`).then(
            ({ ok }) => ok,
            () => false,
          ),
        { timeout: 60_000 },
      )
      .toBe(true);
    return server;
  };
  return { address, start };
}

test("a server that is killed and starts again loses no edit, and the page goes on by itself", async ({ browser }) => {
  const { address, start } = await ownServer();
  let server = await start();
  const page = await browser.newPage({ baseURL: address });
  try {
    await openBench(page);
    await piece(page, "Diffusion").click();
    const strength = page.getByRole("textbox", { name: "Strength, ×", exact: true });
    const saving = page.getByRole("status", { name: "State of saving" });
    await strength.fill("1.2");
    await strength.press("Enter");
    await expect(saving).toHaveText("Everything is saved");
    const gone = new Promise((done) => server.once("exit", done));
    server.kill("SIGKILL");
    await gone;
    await strength.fill("1.7");
    await strength.press("Enter");
    await expect(saving).toContainText("Not saved; trying again", { timeout: 20_000 });
    // The engine is the browser's own: the picture goes on.
    await settled(page);
    server = await start();
    await expect(saving).toHaveText("Everything is saved", { timeout: 30_000 });
    await page.reload();
    await settled(page);
    await expect(page.getByRole("textbox", { name: "Strength, ×", exact: true })).toHaveValue("1.70");
  } finally {
    await page.close();
    server.kill();
  }
});
