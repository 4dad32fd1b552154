// Starts the server program on a data folder, for whoever wants one: the demo, the tests, the trials.
import { spawn } from "node:child_process";
import { join } from "node:path";
import { root } from "./lib.mjs";

/**
 * glibc gives every thread that allocates a pool of its own and returns little of it; with many threads that come and go the server
 * held on to hundreds of MiB. Two pools serve as well.
 */
const ALLOCATION_POOLS = "2";

export const startServer = (data, port, { host = "127.0.0.1", stdio, env = {} }) =>
  spawn(process.execPath, [join(root, "dist/server.mjs")], {
    cwd: root,
    stdio,
    env: {
      MALLOC_ARENA_MAX: ALLOCATION_POOLS,
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
