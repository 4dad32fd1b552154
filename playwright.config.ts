import { defineConfig } from "@playwright/test";

/** The built application, on its own data and port (scripts/test.mjs starts it). */
export default defineConfig({
  testDir: "e2e",
  timeout: 120_000,
  expect: { timeout: 20_000 },
  workers: 1,
  reporter: [["list"]],
  use: {
    baseURL: process.env.HALO_TEST_ADDRESS ?? "http://127.0.0.1:3199",
    viewport: { width: 1280, height: 800 },
    // A control that is not there is told of by its name, well before the journey's own time is over.
    actionTimeout: Number(process.env.HALO_TEST_PATIENCE ?? 30_000),
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
