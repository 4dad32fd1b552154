import { Command } from "commander";
import { MeasureError } from "../../../core/measure/plane";
import { measureTransmission } from "../../../core/measure/transmission";
import { sensorOption, UsageError } from "../../options";
import { readChart } from "./chart";

interface Options {
  without: string;
  with: string;
  sensor: { width: number; height: number };
  inEncoding?: string;
  json?: boolean;
}

async function run({ without, with: withIt, sensor, inEncoding, json }: Options): Promise<void> {
  try {
    const charts = await Promise.all([without, withIt].map((path) => readChart({ in: path, sensor, inEncoding })));
    const transmission = measureTransmission(charts[0]!, charts[1]!);
    if (json) return console.log(JSON.stringify({ transmission }));
    const { wavelengths, values, uncertainty } = transmission;
    console.log(`of the light that comes through, standard error: ${(100 * uncertainty).toPrecision(2)} %`);
    console.log("wavelength (nm)  light (%)");
    wavelengths.forEach((nm, i) =>
      console.log(`${String(nm).padStart(15)}  ${(100 * values[i]!).toFixed(2).padStart(9)}`),
    );
  } catch (error) {
    throw error instanceof MeasureError ? new UsageError(`--with ${withIt}: ${error.message}`) : error;
  }
}

export const transmissionCommand = (): Command =>
  new Command("transmission")
    .description("Transmission by wavelength, from an even field without the glass and with it")
    .requiredOption("--without <file>", "the field without the glass")
    .requiredOption("--with <file>", "the field with it, of one exposure")
    .requiredOption("--sensor <size>", "the sensor, WIDTHxHEIGHT in mm", sensorOption)
    .option("--in-encoding <name>", "how the pictures are encoded: a name, or a .json, .cube or .clf file")
    .option("--json", "JSON, as a table of a profile")
    .action(run);
