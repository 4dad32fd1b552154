import { measurePoint } from "../../../core/measure/point";
import type { Chart } from "../../../core/measure/chart";
import { round, each, type Report } from "./report";

export function point(chart: Chart): Report {
  const { green } = chart.channels;
  const measured = each(chart.channels, (plane) => measurePoint(plane, green));
  const { x, y, radii, uncertainty } = measured.green;
  return {
    facts: {
      quantity: "light of a point, share of all of it a px²",
      place: `${round(chart.left + x)}, ${round(chart.top + y)} px`,
    },
    columns: {
      "distance (px)": radii.map(round),
      ...each(measured, ({ light }) => light.map(round)),
      uncertainty: uncertainty.map(round),
    },
  };
}
