import { measureFlat } from "../../../core/measure/flat";
import type { Channel, Chart } from "../../../core/measure/chart";
import { turnedMean } from "../../../core/measure/tables";
import { type Options, readChart } from "./chart";
import { round, each, type Report } from "./report";

const half = (a: number, b: number) => (a + b) / 2;

/** Both frames as one, where the field was shot a second time with the camera turned. */
async function evenField(chart: Chart, { turned, sensor, region, inEncoding }: Options): Promise<Chart> {
  if (!turned) return chart;
  const other = await readChart({ in: turned, sensor, region, inEncoding });
  const both = (channel: Channel) => turnedMean(chart.channels[channel], other.channels[channel], half);
  return { ...chart, channels: { red: both("red"), green: both("green"), blue: both("blue") } };
}

export async function flat(one: Chart, options: Options): Promise<Report> {
  const chart = await evenField(one, options);
  const measured = each(chart.channels, measureFlat);
  return {
    facts: { quantity: "light against that on the axis" },
    columns: {
      "height (mm)": measured.green.radii.map((radius) => round(radius * chart.pitch)),
      ...each(measured, ({ relative }) => relative.map(round)),
      uncertainty: measured.green.uncertainty.map(round),
    },
  };
}
