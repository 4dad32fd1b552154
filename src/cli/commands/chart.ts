import { dirname } from "node:path";
import { Command } from "commander";
import { chartSheet, PAPERS, type SheetKind } from "../../core/measure/chart-sheet";
import { writeWhole } from "../../server/storage/files";
import { choiceOption, UsageError } from "../options";
import { prepareOutput } from "../places";

interface Options {
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
    .action(async ({ kind, paper, out }: Options) => {
      if (!/\.svg$/i.test(out)) throw new UsageError(`--out ${out}: ends in .svg`);
      prepareOutput("--out", dirname(out));
      await writeWhole(out, Buffer.from(chartSheet(kind, PAPERS[paper])));
      console.log(out);
    });
