import { MID_GREY } from "../colour/grey";
import { SCALES } from "../compile/outputs/scopes";
import type { Frame } from "../image/image";

/** The grey ramp that goes through a look: stops from mid-grey, from the left to the right. */
export const { from: RAMP_FROM, to: RAMP_TO } = SCALES.stops;
const STEPS_A_STOP = 12;
export const RAMP_STEPS = (RAMP_TO - RAMP_FROM) * STEPS_A_STOP + 1;

/** Stops of a step of the ramp. */
export const stopsOfStep = (step: number): number => RAMP_FROM + step / STEPS_A_STOP;

/** The ramp as a frame of working light, `rows` of it. */
export function rampFrame(rows: number): Frame {
  const data = new Float32Array(RAMP_STEPS * rows * 4);
  for (let y = 0, at = 0; y < rows; y++)
    for (let x = 0; x < RAMP_STEPS; x++, at += 4) {
      const light = MID_GREY * 2 ** stopsOfStep(x);
      data.set([light, light, light, 1], at);
    }
  return { width: RAMP_STEPS, height: rows, data };
}
