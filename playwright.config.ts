import { defineConfig } from "@playwright/test";

/** Servers of the built application, each on data and a port of its own (scripts/test.mjs starts them). */
interface TestServer {
  address: string;
  data: string;
}
const servers = JSON.parse(process.env.HALO_TEST_SERVERS ?? "[]") as TestServer[];

// Every worker has a server to itself; tests ask for it by these names.
const own = servers[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];
if (own) {
  process.env.HALO_TEST_ADDRESS = own.address;
  process.env.HALO_TEST_DATA = own.data;
}

export default defineConfig({
  testDir: "e2e",
  timeout: 120_000,
  expect: { timeout: 20_000 },
  // Files go to whichever worker is free: long ones leave nobody without work.
  workers: Math.max(1, servers.length),
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
