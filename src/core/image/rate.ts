/** A frame rate as a fraction: the NTSC kind over 1001, the rest over 1000. */
export function rateFraction(framesPerSecond: number): [numerator: number, denominator: number] {
  const ntsc = Math.round(framesPerSecond) * 1000;
  return Math.abs(framesPerSecond - ntsc / 1001) < 1e-3 ? [ntsc, 1001] : [Math.round(framesPerSecond * 1000), 1000];
}
