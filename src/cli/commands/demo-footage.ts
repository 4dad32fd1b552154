import { availableParallelism } from "node:os";
import { Command } from "commander";
import { DEMO_SIZE, frameFile, makeShots, openingFrame, SHOTS } from "../../demo/footage";
import { built } from "../../server/storage/roots";
import { collect, sizeOption, UsageError } from "../options";
import { prepareOutput } from "../places";

interface Options {
  out: string;
  shots?: string[];
  opening?: boolean;
  plates?: boolean;
  size: { width: number; height: number };
}

export function demoFootageCommand(): Command {
  return new Command("demo-footage")
    .description("Computes the footage of the made-up production Tarn Line")
    .requiredOption("--out <folder>", "where it goes")
    .option("--shots <ids>", "only these, separated by commas", (value: string, before?: string[]) =>
      value.split(",").reduce((all: string[], id) => collect(id, all), before ?? []),
    )
    .option("--opening", "only the frame each shot opens on")
    .option("--plates", "keep what was traced of each shot beside its frames, so that others need not trace it")
    .option("--size <WxH>", "frame size, px", sizeOption, DEMO_SIZE)
    .action(async ({ out, shots, opening, plates, size }: Options) => {
      const unknown = shots?.find((id) => !SHOTS.some((shot) => shot.id === id));
      if (unknown)
        throw new UsageError(
          `--shots ${unknown}: there is no such shot; there are ${SHOTS.map(({ id }) => id).join(", ")}`,
        );
      if (size.width % 2 || size.height % 2 || size.width < 64 || size.width > 4096 || size.height > 4096)
        throw new UsageError("--size: write even numbers from 64 to 4096");
      prepareOutput("--out", out);
      const start = performance.now();
      const made = SHOTS.filter(({ id }) => !shots || shots.includes(id));
      await makeShots(made, {
        folder: out,
        size,
        program: built("demo-worker.mjs"),
        onlyOpening: opening ?? false,
        keepPlatesIn: plates ? out : undefined,
        threads: Math.max(1, availableParallelism()),
        progress: ({ id }, done, of) => void process.stderr.write(`\r${id} ${Math.round((100 * done) / of)} % `),
      });
      process.stderr.write("\n");
      console.log(
        JSON.stringify({
          shots: made.map((shot) => ({
            id: shot.id,
            frames: opening ? 1 : shot.frames,
            first: frameFile(out, shot, opening ? openingFrame(shot) : 1),
          })),
          seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
        }),
      );
    });
}
