// Loaded into a server beside its own program (node --import): tells how late its event loop was, at the end, ms.
import { writeFileSync } from "node:fs";
import { monitorEventLoopDelay } from "node:perf_hooks";
import { isMainThread } from "node:worker_threads";

const TOLD_EVERY_MS = 500;
const NANOSECONDS = 1e6;

if (isMainThread && process.env.HALO_LOOP_FILE) {
  const delay = monitorEventLoopDelay({ resolution: 10 });
  delay.enable();
  // Started anew on request: what happened before is not what is asked about.
  process.on("SIGUSR2", () => delay.reset());
  const tell = () =>
    writeFileSync(
      process.env.HALO_LOOP_FILE,
      JSON.stringify({
        p50: delay.percentile(50) / NANOSECONDS,
        p99: delay.percentile(99) / NANOSECONDS,
        max: delay.max / NANOSECONDS,
      }),
    );
  setInterval(tell, TOLD_EVERY_MS).unref();
}
