import { Command } from "commander";
import { measurePair } from "../../../core/measure/pair";
import { MeasureError } from "../../../core/measure/plane";
import { gradeOf } from "../../../core/measure/tables";
import { sensorOption, UsageError } from "../../options";
import { focalLengthOption, readChart } from "./chart";
import { round } from "./report";

interface Options {
  without: string;
  with: string;
  sensor: { width: number; height: number };
  focal: number;
  inEncoding?: string;
  json?: boolean;
}

async function run({ without, with: withIt, sensor, focal, inEncoding, json }: Options): Promise<void> {
  try {
    const charts = await Promise.all([without, withIt].map((path) => readChart({ in: path, sensor, inEncoding })));
    const measured = measurePair(charts[0]!, charts[1]!, focal);
    const { degrees, channels, uncertainty, explained } = measured;
    const { green } = channels;
    const grade = {
      ...gradeOf(measured, "1"),
      origin: { kind: "measured", how: `one scene without and with it, at ${focal} mm` },
    };
    const facts = {
      scatter: `${round(green.scatter)} ± ${uncertainty.scatter.toPrecision(2)}`,
      "light that comes through": `${Math.log2(green.transmission).toFixed(3)} stops`,
      "of what changed, explained": `${(100 * explained).toFixed(1)} %`,
    };
    const filter = { format: "pale-halo-filter", version: 1, id: "measured", name: "Measured", grades: [grade] };
    if (json)
      return console.log(
        JSON.stringify({ explained: round(explained), channels, uncertainty, degrees: grade.spread.degrees, filter }),
      );
    for (const [name, value] of Object.entries(facts)) console.log(`${name}: ${value}`);
    console.log("angle (°)        red      green       blue   ± log10");
    degrees.forEach((angle, i) => {
      const light = [channels.red, channels.green, channels.blue].map(({ spread }) =>
        spread[i]!.toExponential(2).padStart(10),
      );
      console.log(
        `${angle.toPrecision(3).padStart(9)} ${light.join(" ")} ${uncertainty.spread[i]!.toFixed(2).padStart(9)}`,
      );
    });
  } catch (error) {
    throw error instanceof MeasureError ? new UsageError(`--with ${withIt}: ${error.message}`) : error;
  }
}

export const pairCommand = (): Command =>
  new Command("pair")
    .description("A filter from two frames of one scene: how much comes through, how much is scattered, and how far")
    .requiredOption("--without <file>", "the scene without the filter")
    .requiredOption("--with <file>", "the scene with it, of one exposure")
    .requiredOption("--sensor <size>", "the sensor, WIDTHxHEIGHT in mm", sensorOption)
    .requiredOption("--focal <mm>", "focal length", focalLengthOption)
    .option("--in-encoding <name>", "how the pictures are encoded: a name, or a .json, .cube or .clf file")
    .option("--json", "JSON, with the filter as a profile")
    .action(run);
