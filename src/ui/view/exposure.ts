/** A viewing exposure goes as far up and down, stops; keys change it by a step. */
export const MAX_EXPOSURE = 8;
export const EXPOSURE_STEP = 0.5;

/** Stops with their sign: “+1.5”, “−2.0”, “0.0”. */
export const signedStops = (stops: number): string => {
  const text = Math.abs(stops).toFixed(1);
  return stops > 0 ? `+${text}` : stops < 0 ? `−${text}` : text;
};

/** An exposure, a step further; it ends on steps, wherever it began. */
export const exposureBy = (exposure: number, steps: 1 | -1): number => {
  const next = (Math.round(exposure / EXPOSURE_STEP) + steps) * EXPOSURE_STEP;
  return Math.min(MAX_EXPOSURE, Math.max(-MAX_EXPOSURE, next));
};
