// npm run demo: sets up, builds what is not current, and serves the demo production on 127.0.0.1.
// PORT, HOST, HALO_HOSTS and HALO_DATA are honoured; `npm run demo -- --fresh` starts the demo data anew.
import { createServer } from "node:net";
import { join } from "node:path";
import { buildApplication, computeOpening } from "./build.mjs";
import { fail, root } from "./lib.mjs";
import { startServer } from "./serve.mjs";
import { setup } from "./setup.mjs";

const host = process.env.HOST ?? "127.0.0.1";
const port = Number(process.env.PORT ?? 3000);
if (!Number.isInteger(port) || port < 1 || port > 65535)
  fail(`PORT: ${process.env.PORT} is not a port; write a number from 1 to 65535.`);
if (process.env.HALO_DATA?.trim() === "") fail("HALO_DATA is set but empty; name a folder, or unset it.");

/** Why an address cannot be listened on, or null: said before a build that takes a minute. */
const portProblem = () =>
  new Promise((done) => {
    const taken = `Port ${port} on ${host} is taken. Choose another: PORT=${port + 1} npm run demo`;
    const probe = createServer();
    probe.once("error", ({ code }) =>
      done(code === "EADDRINUSE" ? taken : `${host}:${port} cannot be listened on (${code}).`),
    );
    probe.once("listening", () => probe.close(() => done(null)));
    probe.listen(port, host);
  });

const problem = await portProblem();
if (problem) fail(problem);
setup();
const opening = computeOpening();
buildApplication();
await opening;

const data = process.env.HALO_DATA ?? join(root, ".data");
const fresh = process.argv.includes("--fresh");
if (fresh) console.error(`Starting the demo data anew in ${data}`);
const server = startServer(data, port, {
  host,
  stdio: ["ignore", "pipe", "inherit"],
  env: fresh ? { HALO_FRESH: "1" } : {},
});
let told = false;
server.stdout.on("data", (part) => {
  process.stdout.write(part);
  if (!told && part.includes("is served at")) console.log(`Ctrl-C stops it; its data is in ${data}`);
  told ||= part.includes("is served at");
});
let stopping = false;
for (const signal of ["SIGINT", "SIGTERM"])
  process.on(signal, () => {
    stopping = true;
    server.kill(signal);
  });
// A server that ended by itself, or was killed by somebody else, did not end well.
server.on("exit", (code) => process.exit(stopping ? (code ?? 0) : (code ?? 1)));
