/**
 * What an eye can tell apart in a picture, seen from three times its height away (ITU-R BT.500 and BT.2246 reckon so).
 */

/** Luminance a picture is judged at, cd/m²; and how wide what is looked at stands before the eye, degrees. */
const LUMINANCE = 50;
const FIELD = 20;

/** Degrees that a picture's height takes up. */
export const DEGREES_OF_HEIGHT = (2 * Math.atan(1 / 6) * 180) / Math.PI;

/**
 * Contrast sensitivity of the eye at a frequency (cycles a degree): one over the least modulation that is seen. P.
 * Barten, “Formula for the contrast sensitivity of the human eye”, Proc. SPIE 5294, 2003, which ITU-R BT.2246 takes
 * over.
 */
export function contrastSensitivity(frequency: number): number {
  const u2 = frequency ** 2;
  const optics = Math.exp(-0.0016 * u2 * (1 + 100 / LUMINANCE) ** 0.08);
  const noise = 63 / LUMINANCE ** 0.83 + 1 / (1 - Math.exp(-0.02 * u2));
  return (5200 * optics) / Math.sqrt((1 + 144 / FIELD ** 2 + 0.64 * u2) * noise);
}

/**
 * Frequencies an edge is looked at for, cycles a degree: what is coarser is a gradation, and passes for the light's
 * own.
 */
const EDGE_FREQUENCIES = [1, 2, 4, 8, 16];
/** A picture hides what an even field would show (contrast masking, Legge and Foley, J. Opt. Soc. Am. 70, 1980). */
const MASKING = 3;
/** Largest second derivative of the quintic step that ramps go by, for a width of one. */
const QUINTIC_CURVATURE = 5.7735;

/**
 * How visible the edge of a ramp of exposure is: above 1 it is seen in a picture. The ramp's second derivative, through
 * a second derivative of a Gaussian at each frequency, as the modulation of a grating that would answer alike, against
 * the eye's sensitivity.
 *
 * @param stops by how much the light differs on its two sides
 * @param width of the ramp, share of the picture's height
 */
export function edgeVisibility(stops: number, width: number): number {
  const degrees = Math.max(width, 1e-4) * DEGREES_OF_HEIGHT;
  const curvature = (Math.abs(stops) * Math.LN2 * QUINTIC_CURVATURE) / degrees ** 2;
  return Math.max(
    ...EDGE_FREQUENCIES.map((frequency) => {
      const sigma = Math.SQRT2 / (2 * Math.PI * frequency);
      // No ramp answers more than a step of the same height does.
      const modulation = Math.min(sigma ** 2 * curvature * (Math.E / 2), (Math.abs(stops) * Math.LN2) / 2);
      return (modulation * contrastSensitivity(frequency)) / MASKING;
    }),
  );
}
