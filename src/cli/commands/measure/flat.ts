import { measureFlat } from "../../../core/measure/flat";
import type { Chart } from "../../../core/measure/chart";
import { round, each, type Report } from "./report";

export function flat(chart: Chart): Report {
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
