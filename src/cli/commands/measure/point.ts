import { measureLamps } from "../../../core/measure/lamps/reading";
import { MeasureError } from "../../../core/measure/plane";
import { measurePoint } from "../../../core/measure/point";
import { pupilTable, streakTable, veilTable } from "../../../core/measure/tables";
import type { Chart } from "../../../core/measure/chart";
import { round, each, type Report } from "./report";

const listed = (values: readonly number[]) => values.map(round).join(", ");

/** What lamps say of veil, streak and pupil: in words, and as tables of a profile. */
function lampsIn(chart: Chart): Pick<Report, "facts" | "tables"> & { isOnePoint: boolean } {
  try {
    const { lamps, veil, streak, pupil } = measureLamps(chart);
    const facts: Record<string, string> = { lamps: `${lamps.length} ${pupil ? "out of focus" : "in focus"}` };
    if (veil) facts.veil = `${round(veil.fraction)} ± ${veil.uncertainty.toPrecision(2)} % of the mean light`;
    if (streak)
      facts.streak = `${round(streak.gain)} % of the lamp's light; lengths ${listed(streak.length)} % of the width; ${round(streak.thickness)} % of the height thick`;
    if (pupil)
      facts.pupil = `${pupil.blades} blades, roundness ${round(pupil.roundness)}, open ${listed(pupil.catEye)}, rim ${round(pupil.rim)}`;
    const tables = {
      ...(veil ? { veil: [veilTable(veil)] } : {}),
      ...(streak ? { streak: [streakTable(streak)] } : {}),
      ...(pupil ? { pupil: [pupilTable(pupil)] } : {}),
    };
    return { facts, tables, isOnePoint: lamps.length === 1 && !pupil };
  } catch (error) {
    if (!(error instanceof MeasureError)) throw error;
    return { facts: { "veil and streak": `not measured: ${error.message}` }, isOnePoint: true };
  }
}

/** Lamps of a frame; where it is one point of light, its radial spread as well. */
export function point(chart: Chart): Report {
  const { facts, tables, isOnePoint } = lampsIn(chart);
  if (!isOnePoint) return { facts, columns: {}, tables };
  const { green } = chart.channels;
  const measured = each(chart.channels, (plane) => measurePoint(plane, green));
  const { x, y, radii, uncertainty } = measured.green;
  return {
    facts: {
      quantity: "light of a point, share of all of it a px²",
      place: `${round(chart.left + x)}, ${round(chart.top + y)} px`,
      ...facts,
    },
    columns: {
      "distance (px)": radii.map(round),
      ...each(measured, ({ light }) => light.map(round)),
      uncertainty: uncertainty.map(round),
    },
    tables,
  };
}
