// npm run farm: a small farm on this machine: a PostgreSQL server, the application on the demo's data, and two workers
// that make its renders. Ctrl-C ends all of it. PORT, HOST and HALO_DATA are honoured.
import { spawn } from "node:child_process";
import { tmpdir, userInfo } from "node:os";
import { basename, join, resolve } from "node:path";
import { createHash } from "node:crypto";
import { computeDemoAhead } from "./build.mjs";
import { root } from "./lib.mjs";
import { serve } from "./serving.mjs";
import { setup } from "./setup.mjs";

const WORKERS = 2;
const data = resolve(process.env.HALO_DATA ?? join(root, ".data-farm"));

/** A folder that the system's user postgres can reach: PostgreSQL does not run as root, whose own folders are closed. */
function databaseFolder() {
  if (userInfo().uid !== 0) return `${data}-postgres`;
  const own = createHash("sha256").update(data).digest("hex").slice(0, 8);
  return join(tmpdir(), `pale-halo-farm-${basename(data)}-${own}`);
}

setup();
const { startPostgres } = await import("./postgres.mjs");
const postgres = await startPostgres(databaseFolder());
console.error("PostgreSQL is up");
const env = { DATABASE_URL: postgres.url, HALO_DATA: data, HALO_RENDERS: "elsewhere" };

function startWorker(number) {
  const worker = spawn(process.execPath, [join(root, "bin/halo"), "worker", "--name", `worker ${number}`], {
    stdio: ["ignore", "inherit", "inherit"],
    env: { ...process.env, ...env },
  });
  // A signal goes to every process that the terminal started: workers hear theirs by themselves.
  process.once("exit", () => worker.kill());
}

await serve("npm run farm", data, env, computeDemoAhead, {
  served: () => Array.from({ length: WORKERS }, (_, i) => startWorker(i + 1)),
  ended: () => postgres.stop(),
});
