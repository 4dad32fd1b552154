// Starts the server program on a data folder, for whoever wants one: the demo, the tests, the trials.
import { spawn } from "node:child_process";
import { createServer } from "node:net";
import { join } from "node:path";
import { root } from "./lib.mjs";

/** A port of the loopback that nobody listens on. */
export const freePort = () =>
  new Promise((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });

/**
 * How the C library hands out memory. By itself it gives every thread that allocates a pool of its own, and after the
 * first large buffers takes the next ones from those pools too, where what is freed stays: with frames and threads that
 * come and go the server held on to a GiB it did not use. Two pools serve as well, and large buffers go back to the
 * system when they are freed.
 */
const MEMORY = { MALLOC_ARENA_MAX: "2", MALLOC_MMAP_THRESHOLD_: String(128 * 1024) };

/**
 * Most of its JavaScript heap, MiB: it needs a fifth of that, and would else let rubbish lie as long as the machine has
 * room.
 */
const HEAP = "--max-old-space-size=512";

export const startServer = (data, port, { host = "127.0.0.1", stdio, env = {} }) =>
  spawn(process.execPath, [HEAP, join(root, "dist/server.mjs")], {
    cwd: root,
    stdio,
    env: {
      ...MEMORY,
      ...process.env,
      PORT: String(port),
      HOST: host,
      HALO_DATA: data,
      HALO_ROOT: root,
      NODE_ENV: "production",
      NEXT_TELEMETRY_DISABLED: "1",
      ...env,
    },
  });
