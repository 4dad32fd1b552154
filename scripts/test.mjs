// npm test: installs what is needed, then types, lint, unit tests, and the interface tests against the built
// application on data and a port of their own. Prints how many tests each tier ran. `npm test -- --quick` ends before
// the interface tests.
import { spawn, spawnSync } from "node:child_process";
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildApplication } from "./build.mjs";
import { isFirefoxThere } from "./firefox.mjs";
import { bin, fail, root, run } from "./lib.mjs";
import { freePort, startServer } from "./serve.mjs";
import { setup } from "./setup.mjs";

const SERVER_STARTS_WITHIN = 60_000;
const DEMO_IS_COMPUTED_WITHIN = 600_000;
/** A quarter of the demo footage's pixels is enough for the interface's tests. */
const DEMO_SIZE = "640x360";

const canInstall = () => process.getuid?.() === 0 && !spawnSync("apt-get", ["--version"]).error;

function install(name) {
  console.error(`Installing ${name} …`);
  const options = {
    env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
    stdio: ["ignore", "ignore", "inherit"],
  };
  return spawnSync("apt-get", ["update", "-qq"], options).status === 0
    ? spawnSync("apt-get", ["install", "-y", "-qq", name], options).status === 0
    : false;
}

function ensureChromium() {
  const path = process.env.CHROMIUM ?? "/usr/bin/chromium";
  if (existsSync(path) || (canInstall() && install("chromium"))) return;
  fail(
    `The interface tests need Chromium at ${path}: install Debian's package chromium, or set CHROMIUM to where it is.`,
  );
}

/** Whether a run in Firefox can be had; nothing else depends on it. */
const ensureFirefox = () => isFirefoxThere() || (canInstall() && install("firefox-esr"));

/** Movies are tried where ffmpeg is, or can be had; without it those tests are left out, and it is said. */
function ensureFfmpeg() {
  if (!spawnSync("ffmpeg", ["-version"]).error || (canInstall() && install("ffmpeg"))) return;
  console.log("ffmpeg is not here: tests of movies through it are left out");
}

const pause = (ms) => new Promise((done) => setTimeout(done, ms));

async function waitFor(what, within, ready) {
  const end = Date.now() + within;
  while (Date.now() < end) {
    if (await ready().catch(() => false)) return;
    await pause(500);
  }
  throw new Error(`${what} was not ready within ${within / 1000} s`);
}

const isQuick = process.argv.includes("--quick");
setup();
if (!isQuick) {
  ensureChromium();
  ensureFfmpeg();
}
run(bin("next"), ["typegen"], { stdio: "ignore" });
const scratch = mkdtempSync(join(tmpdir(), "halo-test-"));
// What tests leave in the folder for such things goes with all the rest. The database server of some of them runs as a
// user of its own, who has to come by.
chmodSync(scratch, 0o711);
process.env.TMPDIR = join(scratch, "left");
mkdirSync(process.env.TMPDIR);

/** Runs a command beside others; resolves with whether it ended well. */
const beside = (command, args, options = {}) =>
  new Promise((done) => {
    spawn(command, args, { cwd: root, stdio: "inherit", ...options }).once("exit", (code) => done(code === 0));
  });

// Each of these leaves a core idle for much of its time.
console.log("Types, lint, and the demo footage beside them");
const frames = join(scratch, "data", "footage", "tarn-line");
// The application takes a folder that holds anything only if it is marked as its own.
mkdirSync(frames, { recursive: true });
writeFileSync(join(scratch, "data", ".pale-halo"), "");
const demoFootage = [join(root, "bin/halo"), "demo-footage", "--out", frames, "--size", DEMO_SIZE];
const [typed, linted, computed] = await Promise.all([
  beside(bin("tsc"), ["--noEmit"]),
  beside("npm", ["run", "--silent", "lint"]),
  isQuick || beside(process.execPath, demoFootage, { stdio: "ignore" }),
]);
if (!typed || !linted) process.exit(1);
if (!computed) fail("The demo footage could not be computed.");

console.log("Unit tests");
run(bin("vitest"), ["run", "--reporter=default", "--reporter=json", `--outputFile=${join(scratch, "unit.json")}`]);
const unit = JSON.parse(readFileSync(join(scratch, "unit.json"), "utf8"));
if (isQuick) {
  rmSync(scratch, { recursive: true, force: true });
  console.log(`Unit tests: ${unit.numPassedTests} passed, ${unit.numFailedTests} failed; the interface was not tried`);
  process.exit(unit.numFailedTests ? 1 : 0);
}

console.log("Interface tests");
buildApplication();

/** Servers that are up; all of them go with this process. */
const servers = new Set();
process.on("exit", () => servers.forEach((server) => server.kill()));

/** Starts a server on data of its own; resolves when it answers. */
async function serve(data) {
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const process_ = startServer(data, port, {
    stdio: ["ignore", "ignore", "inherit"],
    env: { HALO_DEMO_SIZE: DEMO_SIZE },
  });
  servers.add(process_);
  const stop = () =>
    new Promise((done) => {
      servers.delete(process_);
      process_.once("exit", done);
      process_.kill();
    });
  await waitFor("The server", SERVER_STARTS_WITHIN, async () => (await fetch(`${address}/api/profiles`)).ok);
  return { address, data, stop };
}

/** A data folder with the demo in it, of which every part of the tests has a copy. */
async function demoData() {
  const data = join(scratch, "data");
  const { address, stop } = await serve(data);
  await waitFor("The demo footage", DEMO_IS_COMPUTED_WITHIN, async () =>
    (await (await fetch(`${address}/api/shots`)).json()).every(({ progress }) => progress === 1),
  );
  await stop();
  return data;
}

/** Browsers wait for much of their time: two of them, each with a server, end well before one after another would. */
const WORKERS = 2;
const NONE = { expected: 0, unexpected: 0 };

/** The interface tests, each worker on a server and data of its own. Gives the exit code and the counts. */
async function runInterface(data) {
  const running = await Promise.all(
    Array.from({ length: WORKERS }, (_, i) => {
      const own = join(scratch, `data-${i + 1}`);
      cpSync(data, own, { recursive: true });
      return serve(own);
    }),
  );
  const report = join(scratch, "interface.json");
  const named = running.map(({ address, data: own }) => ({ address, data: own }));
  const tests = spawn(bin("playwright"), ["test", "--reporter=list,json"], {
    cwd: root,
    stdio: "inherit",
    env: { ...process.env, HALO_TEST_SERVERS: JSON.stringify(named), PLAYWRIGHT_JSON_OUTPUT_NAME: report },
  });
  const status = await new Promise((done) => tests.once("exit", (code) => done(code ?? 1)));
  await Promise.all(running.map(({ stop }) => stop()));
  const stats = existsSync(report) ? JSON.parse(readFileSync(report, "utf8")).stats : NONE;
  return { status, stats };
}

/** A short run in Firefox, on data of its own; null where it cannot be had. */
async function runInFirefox(data) {
  if (!ensureFirefox()) {
    console.log("Firefox is not here: the run in it is left out");
    return null;
  }
  const own = join(scratch, "data-firefox");
  cpSync(data, own, { recursive: true });
  const { address, stop } = await serve(own);
  const { runFirefox } = await import("../e2e/firefox.mjs");
  const counts = await runFirefox(address).catch((error) => {
    console.log(`  ✘  Firefox: ${error.message}`);
    return { passed: 0, failed: 1 };
  });
  await stop();
  return counts;
}

let tried = { status: 1, stats: NONE };
let firefox = null;
try {
  const data = await demoData();
  tried = await runInterface(data);
  firefox = await runInFirefox(data);
} finally {
  for (const server of servers) server.kill();
  rmSync(scratch, { recursive: true, force: true });
}
const { expected, unexpected } = tried.stats;
const isWhole = tried.status === 0 && !firefox?.failed;
const passed = unit.numPassedTests + expected + (firefox?.passed ?? 0);
const failed = unit.numFailedTests + unexpected + (firefox?.failed ?? 0);
console.log(
  `Unit tests: ${unit.numPassedTests} passed. Interface tests: ${expected} passed, ` +
    `${firefox?.passed ?? "none"} in Firefox.`,
);
console.log(`${passed} passed, ${failed} failed`);
process.exit(isWhole && passed ? 0 : 1);
