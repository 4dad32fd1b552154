import { Command } from "commander";
import { numberOption, UsageError } from "../options";

interface WorkerCommandOptions {
  concurrency: number;
  name?: string;
  data?: string;
}

/** More would only wait for one another. */
const MAX_CONCURRENCY = 64;

/** Works until it is told to stop, or drained: then it ends the frame in hand and gives the rest back. */
async function work({ concurrency, name, data }: WorkerCommandOptions): Promise<void> {
  if (!process.env.DATABASE_URL?.trim())
    throw new UsageError(
      "DATABASE_URL is not set: a worker takes its work from a PostgreSQL database that the application has, too; " +
        "without one the application makes its renders by itself",
    );
  const { stayingWithData } = await import("../data");
  const { startWorker } = await import("../../server/farm/worker");
  await stayingWithData(data, "halo worker", async ({ db, folder }) => {
    const worker = startWorker(db, { concurrency, ...(name === undefined ? {} : { name }) });
    console.error(`worker ${name ?? worker.id} takes work; its data is in ${folder}`);
    for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) {
      const [endAtOnce] = process.listeners(signal);
      process.removeAllListeners(signal).once(signal, () => {
        console.error(`worker ${name ?? worker.id} ends the frame in hand and stops; once more stops it at once`);
        process.once(signal, endAtOnce as () => void);
        void worker.stop();
      });
    }
    await worker.ended;
  });
}

export const workerCommand = (): Command =>
  new Command("worker")
    .description("Makes frames of queued renders, beside the application and others, until it is told to stop")
    .option("--concurrency <n>", "portions at once", numberOption(1, MAX_CONCURRENCY, true), 1)
    .option("--name <name>", "as people know it; the machine's name if left out")
    .option("--data <folder>", "the data folder that all share; HALO_DATA or .data if left out")
    .action(work);
