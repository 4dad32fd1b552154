import { gridOf, gridTables } from "../../../core/measure/tables";
import type { Chart } from "../../../core/measure/chart";
import type { Options } from "./chart";
import { round, type Report } from "./report";

export function grid(chart: Chart, { focal, model: wanted }: Options): Report {
  const found = gridOf(chart, focal, wanted);
  const { model, dots, leftOut, residual, deviations, lateral } = found;
  const { distortion, lateralColour } = gridTables(found, focal, model);
  const { heights, red, blue } = lateralColour;
  return {
    facts: {
      quantity: "distortion; red and blue against green, radially",
      dots: `${dots.length}${leftOut ? `, and ${leftOut} left out as damaged` : ""}`,
      "distance from the model, root mean square": `${round(residual)} px`,
      ...Object.fromEntries(
        Object.entries(distortion.coefficients).map(([name, value]) => [
          `${model}, ${name}`,
          `${value} ± ${deviations[name]!.toPrecision(2)}`,
        ]),
      ),
    },
    columns: {
      "height (mm)": heights,
      "red (µm)": red,
      "blue (µm)": blue,
      "uncertainty (µm)": lateral.uncertainty.map(round),
    },
    tables: {
      distortion: [distortion],
      lateralColour: [lateralColour],
    },
  };
}
