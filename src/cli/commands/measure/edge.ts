import { measureEdge } from "../../../core/measure/edge";
import { type Chart, directionOf } from "../../../core/measure/chart";
import { round, each, type Report } from "./report";

export function edge(chart: Chart): Report {
  const measured = each(chart.channels, measureEdge);
  const { width, height } = chart.channels.green;
  const [middleX, middleY] = [(width - 1) / 2, (height - 1) / 2];
  const { frequencies, normal, angle, half, beyond, uncertainty } = measured.green;
  return {
    facts: {
      quantity: "contrast, the edge’s own included",
      height: `${round(Math.hypot(middleX - chart.axisX, middleY - chart.axisY) * chart.pitch)} mm`,
      direction: directionOf(normal, middleX, middleY, chart),
      slant: `${round(angle)}°`,
      profile: `${half} px to both sides of the edge`,
      "light changing beyond that":
        beyond === null ? "not in the region" : `${(100 * beyond).toFixed(1)} % of the edge’s step`,
    },
    columns: {
      "frequency (lp/mm)": frequencies.map((f) => round(f / chart.pitch)),
      ...each(measured, ({ contrast }) => contrast.map(round)),
      uncertainty: uncertainty.map(round),
    },
  };
}
