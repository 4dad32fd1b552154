import { measureGrid } from "../../../core/measure/grid";
import type { Chart } from "../../../core/measure/chart";
import type { Options } from "./chart";
import { round, type Report } from "./report";

const COEFFICIENT_DIGITS = 6;

export function grid(chart: Chart, { focal, model }: Options): Report {
  const { red, green, blue } = chart.channels;
  const { dots, leftOut, residual, coefficients, deviations, lateral } = measureGrid({
    planes: { red, green, blue },
    pitchX: chart.pitch,
    pitchY: chart.pitch,
    axisX: chart.axisX,
    axisY: chart.axisY,
    focalLength: focal,
    model,
  });
  const rounded = Object.fromEntries(
    Object.entries(coefficients).map(([name, value]) => [name, Number(value.toFixed(COEFFICIENT_DIGITS))]),
  );
  const [heights, reds, blues] = [lateral.heights, lateral.red, lateral.blue].map((column) => column.map(round)) as [
    number[],
    number[],
    number[],
  ];
  return {
    facts: {
      quantity: "distortion; red and blue against green, radially",
      dots: `${dots.length}${leftOut ? `, and ${leftOut} left out as damaged` : ""}`,
      "distance from the model, root mean square": `${round(residual)} px`,
      ...Object.fromEntries(
        Object.entries(rounded).map(([name, value]) => [
          `${model}, ${name}`,
          `${value} ± ${deviations[name]!.toPrecision(2)}`,
        ]),
      ),
    },
    columns: {
      "height (mm)": heights,
      "red (µm)": reds,
      "blue (µm)": blues,
      "uncertainty (µm)": lateral.uncertainty.map(round),
    },
    tables: {
      distortion: [{ focalLength: focal, model, coefficients: rounded }],
      lateralColour: [{ focalLength: focal, heights, red: reds, blue: blues }],
    },
  };
}
