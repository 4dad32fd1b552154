// What `npm run demo` and `npm start` share: an address that is free, a build that is current, and a server until
// Ctrl-C.
import { createServer } from "node:net";
import { buildApplication } from "./build.mjs";
import { fail } from "./lib.mjs";
import { startServer } from "./serve.mjs";
import { setup } from "./setup.mjs";

const host = process.env.HOST ?? "127.0.0.1";
const port = Number(process.env.PORT ?? 3000);

/** Why an address cannot be listened on, or null: said before a build that takes a minute. */
const portProblem = (command) =>
  new Promise((done) => {
    const taken = `Port ${port} on ${host} is taken. Choose another: PORT=${port + 1} ${command}`;
    const probe = createServer();
    probe.once("error", ({ code }) =>
      done(code === "EADDRINUSE" ? taken : `${host}:${port} cannot be listened on (${code}).`),
    );
    probe.once("listening", () => probe.close(() => done(null)));
    probe.listen(port, host);
  });

/**
 * Sets up, builds what is not current (`beside`: what is done at the same time), and serves a data folder. `served` is
 * called when it is, `ended` when it is no more.
 */
export async function serve(
  command,
  data,
  env = {},
  beside = () => {},
  { served = () => {}, ended = () => Promise.resolve() } = {},
) {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    fail(`PORT: ${process.env.PORT} is not a port; write a number from 1 to 65535.`);
  if (process.env.HALO_DATA?.trim() === "") fail("HALO_DATA is set but empty; name a folder, or unset it.");
  const problem = await portProblem(command);
  if (problem) fail(problem);
  setup();
  const begun = beside();
  buildApplication();
  await begun;
  const server = startServer(data, port, { host, stdio: ["ignore", "pipe", "inherit"], env });
  let told = false;
  server.stdout.on("data", (part) => {
    process.stdout.write(part);
    if (told || !part.includes("is served at")) return;
    told = true;
    console.log(`Ctrl-C stops it; its data is in ${data}`);
    served();
  });
  let stopping = false;
  for (const signal of ["SIGINT", "SIGTERM"])
    process.on(signal, () => {
      stopping = true;
      server.kill(signal);
    });
  // A server that ended by itself, or was killed by somebody else, did not end well.
  server.on("exit", (code) => void ended().finally(() => process.exit(stopping ? (code ?? 0) : (code ?? 1))));
}
