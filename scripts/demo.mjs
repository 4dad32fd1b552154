// npm run demo: sets up, builds what is not current, and serves the demo production on 127.0.0.1.
// PORT, HOST and HALO_DATA are honoured; `npm run demo -- --fresh` starts the demo data anew.
import { spawn } from "node:child_process";
import { existsSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { join, resolve } from "node:path";
import { buildApplication } from "./build.mjs";
import { bin, fail, root } from "./lib.mjs";
import { setup } from "./setup.mjs";

const host = process.env.HOST ?? "127.0.0.1";
const port = Number(process.env.PORT ?? 3000);
const data = resolve(process.env.HALO_DATA ?? join(root, ".data"));
if (!Number.isInteger(port) || port < 1 || port > 65535)
  fail(`PORT: ${process.env.PORT} is not a port; write a number from 1 to 65535.`);

/** Why an address cannot be listened on, or null. */
const portProblem = () =>
  new Promise((done) => {
    const probe = createServer();
    probe.once("error", (error) =>
      done(
        error.code === "EADDRINUSE"
          ? `Port ${port} on ${host} is taken. Choose another: PORT=${port + 1} npm run demo`
          : `${host}:${port} cannot be listened on (${error.code}).`,
      ),
    );
    probe.once("listening", () => probe.close(() => done(null)));
    probe.listen(port, host);
  });

/** The embedded database belongs to one process at a time. */
function takenBy() {
  const owner = existsSync(join(data, "server.pid")) ? Number(readFileSync(join(data, "server.pid"), "utf8")) : 0;
  if (!owner) return null;
  try {
    process.kill(owner, 0);
    return owner;
  } catch {
    return null;
  }
}

const problem = await portProblem();
if (problem) fail(problem);
setup();
buildApplication();
if (takenBy())
  fail(`Another server (process ${takenBy()}) is using ${data}. Stop it, or set HALO_DATA to another folder.`);
if (process.argv.includes("--fresh")) {
  console.error(`Starting the demo data anew in ${data}`);
  for (const part of ["database", "intake", "renders", "footage"])
    rmSync(join(data, part), { recursive: true, force: true });
}

const server = spawn(process.execPath, [bin("next"), "start", "-H", host, "-p", String(port)], {
  cwd: root,
  stdio: ["ignore", "pipe", "inherit"],
  env: { ...process.env, HALO_DATA: data, HALO_ROOT: root, NEXT_TELEMETRY_DISABLED: "1", NODE_ENV: "production" },
});
let told = false;
server.stdout.on("data", () => {
  if (told) return;
  told = true;
  console.log(`Pale Halo is served at http://${host}:${port}  (Ctrl-C stops it; data in ${data})`);
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code, signal) => process.exit(signal ? 0 : (code ?? 0)));
