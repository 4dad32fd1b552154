import { dirname } from "node:path";
import { Command } from "commander";
import { chartSheet, PAPERS, type SheetKind } from "../../core/measure/chart-sheet";
import { type Doing, DRY_RUN, JSON_OUT, putFile, tellDone } from "../doing";
import { choiceOption, UsageError } from "../options";
import { prepareOutput } from "../places";

interface Options extends Doing {
  kind: SheetKind;
  paper: keyof typeof PAPERS;
  out: string;
}

export const chartCommand = (): Command =>
  new Command("chart")
    .description("A chart to print at 100 %: squares with slanted edges, or a grid of dots, as SVG in millimetres")
    .addOption(choiceOption("--kind <kind>", "what it shows", ["edges", "grid"]).makeOptionMandatory())
    .addOption(choiceOption("--paper <size>", "paper", Object.keys(PAPERS)).default("a3"))
    .requiredOption("--out <file>", "the chart, .svg")
    .option(...DRY_RUN)
    .option(...JSON_OUT)
    .action(async ({ kind, paper, out, ...doing }: Options) => {
      if (!/\.svg$/i.test(out)) throw new UsageError(`--out ${out}: ends in .svg`);
      prepareOutput("--out", dirname(out), doing.dryRun);
      await putFile(out, Buffer.from(chartSheet(kind, PAPERS[paper])), doing);
      tellDone(doing, { out }, out);
    });
