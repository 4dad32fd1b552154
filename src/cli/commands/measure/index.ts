import { Command, Option } from "commander";
import { MeasureError } from "../../../core/measure/plane";
import { choiceOption, numberOption, regionOption, sensorOption, UsageError } from "../../options";
import type { Chart } from "../../../core/measure/chart";
import { focalLengthOption, type Options, readChart } from "./chart";
import type { Report } from "./report";
import { edge } from "./edge";
import { edges } from "./edges";
import { flat } from "./flat";
import { grid } from "./grid";
import { pairCommand } from "./pair";
import { point } from "./point";
import { printedCommand } from "./printed";
import { transmissionCommand } from "./transmission";

const print = ({ facts, columns, tables }: Report, json = false) => {
  if (json) return console.log(JSON.stringify({ ...facts, ...columns, ...tables }));
  for (const [name, value] of Object.entries(facts)) console.log(`${name}: ${value}`);
  const names = Object.keys(columns);
  if (!names.length) return;
  const widths = names.map((name) => Math.max(name.length, 11));
  console.log(names.map((name, k) => name.padStart(widths[k]!)).join("  "));
  columns[names[0]!]!.forEach((_, i) =>
    console.log(names.map((name, k) => String(columns[name]![i]).padStart(widths[k]!)).join("  ")),
  );
};

const [MIN_STOP, MAX_STOP] = [0.5, 128];

const chartCommand = (
  name: string,
  description: string,
  measure: (chart: Chart, options: Options) => Report | Promise<Report>,
  further: Option[] = [],
) =>
  further
    .reduce(
      (command, option) => command.addOption(option),
      new Command(name)
        .description(description)
        .requiredOption("--in <file>", "a picture of the chart")
        .requiredOption("--sensor <size>", "the sensor, WIDTHxHEIGHT in mm", sensorOption)
        .option("--region <place>", "the part to measure, LEFT,TOP,WIDTHxHEIGHT in px", regionOption)
        .option("--in-encoding <name>", "how the picture is encoded: a name, or a .json, .cube or .clf file")
        .option("--json", "JSON"),
    )
    .action(async (options: Options) => {
      try {
        const chart = await readChart(options);
        const { facts, ...rest } = await measure(chart, options);
        print({ facts: { encoding: chart.encoding, ...facts }, ...rest }, options.json);
      } catch (error) {
        throw error instanceof MeasureError ? new UsageError(`--in ${options.in}: ${error.message}`) : error;
      }
    });

export const measureCommand = (): Command =>
  new Command("measure")
    .description("Measures a picture of a chart")
    .addCommand(chartCommand("edge", "contrast by frequency from one slanted edge (ISO 12233)", edge))
    .addCommand(
      chartCommand("edges", "contrast over the frame, from every slanted edge that is found", edges, [
        new Option("--focal <mm>", "focal length").argParser(focalLengthOption).makeOptionMandatory(),
        new Option("--stop <T>", "T-stop").argParser(numberOption(MIN_STOP, MAX_STOP)).makeOptionMandatory(),
        new Option("--no-aperture", "divide the pixel’s own share of the contrast out"),
      ]),
    )
    .addCommand(
      chartCommand("flat", "relative illumination from an evenly lit field", flat, [
        new Option("--turned <file>", "the same field, the camera turned by 180°: the lamp's own unevenness goes out"),
      ]),
    )
    .addCommand(
      chartCommand("grid", "distortion and lateral colour from a grid of round dots", grid, [
        new Option("--focal <mm>", "focal length").argParser(focalLengthOption).makeOptionMandatory(),
        choiceOption("--model <name>", "the distortion model that is fitted; else the one that the dots bear out", [
          "radial-tangential",
          "anamorphic",
        ]),
      ]),
    )
    .addCommand(
      chartCommand("point", "small lamps in the dark: veil and streak, the pupil, the spread of one alone", point),
    )
    .addCommand(transmissionCommand())
    .addCommand(pairCommand())
    .addCommand(printedCommand());
