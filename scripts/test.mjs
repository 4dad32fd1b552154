// npm test: installs what is needed, then types, lint, unit tests, and the interface tests against the built application on
// data and a port of their own. Prints how many tests each tier ran.
import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildApplication } from "./build.mjs";
import { bin, fail, root, run } from "./lib.mjs";
import { startServer } from "./serve.mjs";
import { setup } from "./setup.mjs";

const SERVER_STARTS_WITHIN = 60_000;
const DEMO_IS_COMPUTED_WITHIN = 600_000;
/** A quarter of the demo footage's pixels is enough for the interface's tests. */
const DEMO_SIZE = "640x360";

function ensureChromium() {
  const path = process.env.CHROMIUM ?? "/usr/bin/chromium";
  if (existsSync(path)) return;
  if (process.getuid?.() !== 0 || spawnSync("apt-get", ["--version"]).error)
    fail(
      `The interface tests need Chromium at ${path}: install Debian's package chromium, or set CHROMIUM to where it is.`,
    );
  console.error("Installing Chromium …");
  run("apt-get", ["update", "-qq"]);
  run("apt-get", ["install", "-y", "-qq", "chromium"], {
    env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
    stdio: ["ignore", "ignore", "inherit"],
  });
}

const freePort = () =>
  new Promise((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });

const pause = (ms) => new Promise((done) => setTimeout(done, ms));

async function waitFor(what, within, ready) {
  const end = Date.now() + within;
  while (Date.now() < end) {
    if (await ready().catch(() => false)) return;
    await pause(500);
  }
  throw new Error(`${what} was not ready within ${within / 1000} s`);
}

setup();
ensureChromium();
run(bin("next"), ["typegen"], { stdio: "ignore" });
console.log("Types");
run(bin("tsc"), ["--noEmit"]);
console.log("Lint");
run("npm", ["run", "--silent", "lint"]);

const scratch = mkdtempSync(join(tmpdir(), "halo-test-"));
console.log("Unit tests");
run(bin("vitest"), ["run", "--reporter=default", "--reporter=json", `--outputFile=${join(scratch, "unit.json")}`]);
const unit = JSON.parse(readFileSync(join(scratch, "unit.json"), "utf8"));

console.log("Interface tests");
buildApplication();
const port = await freePort();
const data = join(scratch, "data");
const address = `http://127.0.0.1:${port}`;
const server = startServer(data, port, {
  stdio: ["ignore", "ignore", "inherit"],
  env: { HALO_DEMO_SIZE: DEMO_SIZE },
});
process.on("exit", () => server.kill());
let status = 1;
let interfaceTests = { expected: 0, unexpected: 0, skipped: 0 };
try {
  await waitFor("The server", SERVER_STARTS_WITHIN, async () => (await fetch(`${address}/api/profiles`)).ok);
  await waitFor("The demo footage", DEMO_IS_COMPUTED_WITHIN, async () =>
    (await (await fetch(`${address}/api/shots`)).json()).every(({ progress }) => progress === 1),
  );
  const report = join(scratch, "interface.json");
  status =
    spawnSync(bin("playwright"), ["test", "--reporter=list,json"], {
      cwd: root,
      stdio: "inherit",
      env: { ...process.env, HALO_TEST_ADDRESS: address, HALO_TEST_DATA: data, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
    }).status ?? 1;
  if (existsSync(report)) interfaceTests = JSON.parse(readFileSync(report, "utf8")).stats;
} finally {
  server.kill();
  rmSync(scratch, { recursive: true, force: true });
}
const passed = unit.numPassedTests + interfaceTests.expected;
const failed = unit.numFailedTests + interfaceTests.unexpected;
console.log(`Unit tests: ${unit.numPassedTests} passed. Interface tests: ${interfaceTests.expected} passed.`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(status || (passed ? 0 : 1));
