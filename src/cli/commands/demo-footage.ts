import { availableParallelism } from "node:os";
import { join } from "node:path";
import { Command } from "commander";
import { BENCH_DAY, benchDayGlass } from "../../demo/bench-day/bench-day";
import { makeBenchDay } from "../../demo/bench-day/make";
import { DEMO_SIZE, frameFile, makeShots, openingFrame, SHOTS } from "../../demo/footage";
import { built } from "../../server/storage/roots";
import { DRY_RUN } from "../doing";
import { collect, sizeOption, UsageError } from "../options";
import { prepareOutput } from "../places";

interface Options {
  out: string;
  shots?: string[];
  opening?: boolean;
  plates?: boolean;
  size: { width: number; height: number };
  dryRun?: boolean;
}

const isBenchDay = (id: string) => id === BENCH_DAY || id.startsWith(`${BENCH_DAY}/`);

/** The lenses and filters whose charts are wanted: all of them, or by their ids. Throws UsageError. */
function glassNamed(shots: readonly string[]): string[] {
  const all = benchDayGlass().map(({ id }) => id);
  const named = shots.filter(isBenchDay).map((id) => id.slice(BENCH_DAY.length + 1));
  const unknown = named.find((id) => id && !all.includes(id));
  if (unknown) throw new UsageError(`--shots ${BENCH_DAY}/${unknown}: there are charts of ${all.join(", ")}`);
  return named.includes("") ? all : named;
}

export function demoFootageCommand(): Command {
  return new Command("demo-footage")
    .description("Computes the footage of the made-up production Tarn Line")
    .requiredOption("--out <folder>", "where it goes")
    .option(
      "--shots <ids>",
      `only these, separated by commas; charts of the glass as ${BENCH_DAY}, or ${BENCH_DAY}/ID`,
      (value: string, before?: string[]) =>
        value.split(",").reduce((all: string[], id) => collect(id, all), before ?? []),
    )
    .option("--opening", "only the frame each shot opens on")
    .option("--plates", "keep what was traced of each shot beside its frames, so that others need not trace it")
    .option("--size <WxH>", "frame size, px", sizeOption, DEMO_SIZE)
    .option(...DRY_RUN)
    .action(async ({ out, shots, opening, plates, size, dryRun }: Options) => {
      const glass = glassNamed(shots ?? []);
      const unknown = shots?.find((id) => !isBenchDay(id) && !SHOTS.some((shot) => shot.id === id));
      if (unknown)
        throw new UsageError(
          `--shots ${unknown}: there is no such shot; there are ${SHOTS.map(({ id }) => id).join(", ")} and ${BENCH_DAY}`,
        );
      if (size.width % 2 || size.height % 2 || size.width < 64 || size.width > 4096 || size.height > 4096)
        throw new UsageError("--size: write even numbers from 64 to 4096");
      prepareOutput("--out", out, dryRun);
      const start = performance.now();
      const made = SHOTS.filter(({ id }) => !shots || shots.includes(id));
      const files = made.map((shot) => ({
        id: shot.id,
        frames: opening ? 1 : shot.frames,
        first: frameFile(out, shot, opening ? openingFrame(shot) : 1),
      }));
      if (dryRun) return console.log(JSON.stringify({ shots: files, benchDay: glass, dryRun }));
      await makeShots(made, {
        folder: out,
        size,
        program: built("demo-worker.mjs"),
        onlyOpening: opening ?? false,
        keepPlatesIn: plates ? out : undefined,
        threads: Math.max(1, availableParallelism()),
        progress: ({ id }, done, of) => void process.stderr.write(`\r${id} ${Math.round((100 * done) / of)} % `),
      });
      await makeBenchDay({
        ids: glass,
        folderOf: (id) => join(out, BENCH_DAY, id),
        program: built("bench-day-worker.mjs"),
        footageProgram: built("demo-worker.mjs"),
        threads: Math.max(1, availableParallelism()),
        footage: out,
        progress: (id, done, of) => void process.stderr.write(`\r${BENCH_DAY}/${id} ${done} of ${of} `),
      });
      process.stderr.write("\n");
      console.log(
        JSON.stringify({
          shots: files,
          ...(glass.length ? { benchDay: glass.map((id) => join(out, BENCH_DAY, id)) } : {}),
          seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
        }),
      );
    });
}
