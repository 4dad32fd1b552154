import { measureEdges } from "../../../core/measure/edges/edges";
import { contrastTable } from "../../../core/measure/tables";
import { type Chart, directionOf } from "../../../core/measure/chart";
import type { Options } from "./chart";
import { round, type Report } from "./report";

/** lp/mm at which the text shows a table of contrast; JSON has all of it. */
const SHOWN_LP_MM = [10, 20, 30, 40];

export function edges(chart: Chart, { focal, stop, aperture }: Options): Report {
  const { green } = chart.channels;
  const { axisX, axisY } = chart;
  const { edges: found, refused } = measureEdges(green);
  const { table, filled } = contrastTable(found, chart, focal, stop, !aperture);
  const { heights, frequencies, sagittal, meridional, uncertainty } = table;
  const steps = found.map(({ step }) => step).sort((a, b) => a - b);
  const shown = SHOWN_LP_MM.filter((lp) => frequencies.includes(lp));
  const at = (rows: number[][], lp: number) => rows.map((row) => row[frequencies.indexOf(lp)]!);
  const lacking = (["sagittal", "meridional"] as const).flatMap((direction) =>
    filled[direction].length ? [`${direction} at ${filled[direction].join(", ")} mm`] : [],
  );
  return {
    facts: {
      quantity: aperture
        ? "contrast, the edge’s own and the pixel’s aperture in it"
        : "contrast, without the pixel’s aperture",
      edges: `${found.length}${refused.length ? `, and ${refused.length} that could not be measured` : ""}`,
      "contrast of the chart itself": `${round(steps[0]!)} to ${round(steps.at(-1)!)}`,
      uncertainty: `${uncertainty}`,
      ...(lacking.length ? { "no edge of its own": lacking.join("; ") } : {}),
    },
    columns: {
      "height (mm)": heights,
      ...Object.fromEntries(
        shown.flatMap((lp) => [
          [`S ${lp} lp/mm`, at(sagittal, lp)],
          [`M ${lp} lp/mm`, at(meridional, lp)],
        ]),
      ),
    },
    tables: {
      mtf: [
        {
          ...table,
          origin: { kind: "measured", how: `slanted edges, ${found.length} of them` },
        },
      ],
      edges: found.map(({ x, y, length, step, response }) => ({
        at: [round(chart.left + x), round(chart.top + y)],
        height: round(Math.hypot(x - axisX, y - axisY) * chart.pitch),
        direction: directionOf(response.normal, x, y, chart),
        slant: round(response.angle),
        length: round(length),
        step: round(step),
      })),
      refused: refused.map(({ x, y, reason }) => ({ at: [round(chart.left + x), round(chart.top + y)], reason })),
    },
  };
}
