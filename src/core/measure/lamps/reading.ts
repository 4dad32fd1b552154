/** What small lamps in the dark say of a lens: in focus its veil and streak, out of focus its pupil. */
import type { Chart } from "../chart";
import { lampsOf, lightOf } from "./lamps";
import { pupilOfDiscs, type PupilMeasurement } from "./pupil";
import { streakOf, type Streak } from "./streak";
import { type Veil, veilOf } from "./veil";

export interface LampsMeasurement {
  /** Where they are, px, and their radii. */
  lamps: { x: number; y: number; radius: number }[];
  veil: Veil | null;
  /** Null where the lamps draw no line, or are out of focus. */
  streak: Streak | null;
  /** Null where the lamps are in focus. */
  pupil: PupilMeasurement | null;
}

/** Throws MeasureError. */
export function measureLamps(chart: Chart, tell: (share: number) => void = () => {}): LampsMeasurement {
  const light = lightOf(chart);
  const { lamps, areDiscs } = lampsOf(light);
  tell(0.3);
  const found = lamps.map(({ x, y, area }) => ({ x, y, radius: Math.sqrt(area / Math.PI) }));
  if (areDiscs) {
    const { axisX, axisY, pitch } = chart;
    const corner = Math.hypot(axisX, axisY) * pitch;
    return {
      lamps: found,
      veil: null,
      streak: null,
      pupil: pupilOfDiscs(light, lamps, { axisX, axisY, pitch, corner }),
    };
  }
  const streak = streakOf(chart, lamps);
  tell(0.6);
  return { lamps: found, veil: veilOf(light, lamps, streak !== null), streak, pupil: null };
}
