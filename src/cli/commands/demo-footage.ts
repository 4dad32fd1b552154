import { availableParallelism } from "node:os";
import { join } from "node:path";
import { Command } from "commander";
import { BENCH_DAY, benchDayGlass } from "../../demo/bench-day/bench-day";
import { makeBenchDay } from "../../demo/bench-day/make";
import { DEMO_SIZE, frameFile, makeShots, openingFrame, SHOTS } from "../../demo/footage";
import { hasFfmpeg } from "../../server/footage/movies/ffmpeg";
import { CAMERA_MOVIE, makeCameraMovie, movieFile, RECORDED } from "../../server/seed/camera-movie";
import { built } from "../../formats/project";
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
      const ids = [...SHOTS.map(({ id }) => id), CAMERA_MOVIE.id];
      const unknown = shots?.find((id) => !isBenchDay(id) && !ids.includes(id));
      if (unknown)
        throw new UsageError(`--shots ${unknown}: there is no such shot; there are ${ids.join(", ")} and ${BENCH_DAY}`);
      const asksForMovie = shots?.includes(CAMERA_MOVIE.id) ?? false;
      if (asksForMovie && !hasFfmpeg())
        throw new UsageError(`--shots ${CAMERA_MOVIE.id}: is a movie, which ffmpeg writes; it is not on the PATH`);
      const wantsMovie = asksForMovie || (!shots && !opening && hasFfmpeg());
      if (size.width % 2 || size.height % 2 || size.width < 64 || size.width > 4096 || size.height > 4096)
        throw new UsageError("--size: write even numbers from 64 to 4096");
      prepareOutput("--out", out, dryRun);
      const start = performance.now();
      const made = SHOTS.filter((shot) => !shots || shots.includes(shot.id) || (wantsMovie && shot === RECORDED));
      const files = made.map((shot) => ({
        id: shot.id,
        frames: opening ? 1 : shot.frames,
        first: frameFile(out, shot, opening ? openingFrame(shot) : 1),
      }));
      const movie = wantsMovie ? [{ id: CAMERA_MOVIE.id, frames: RECORDED.frames, first: movieFile(out) }] : [];
      if (dryRun) return console.log(JSON.stringify({ shots: [...files, ...movie], benchDay: glass, dryRun }));
      await makeShots(made, {
        folder: out,
        size,
        program: built("demo-worker.mjs"),
        onlyOpening: (opening && !wantsMovie) ?? false,
        keepPlatesIn: plates ? out : undefined,
        threads: Math.max(1, availableParallelism()),
        progress: ({ id }, done, of) => void process.stderr.write(`\r${id} ${Math.round((100 * done) / of)} % `),
      });
      if (wantsMovie) await makeCameraMovie(out);
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
          shots: [...files, ...movie],
          ...(glass.length ? { benchDay: glass.map((id) => join(out, BENCH_DAY, id)) } : {}),
          seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
        }),
      );
    });
}
